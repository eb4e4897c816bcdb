// How plays are stopped.
#pragma once

#include "core/mixer/play_table.h"

namespace kiai::mixer {

class Endings {
  public:
    explicit Endings(PlayTable& table) noexcept : table_(table) {}

    /// Fades a play out over `fade`. Returns false if it ends as early anyway. [rt]
    bool end_early(int index, Frames now, Frames fade, EndReason reason, std::uint64_t by,
                   FadeCurve curve = FadeCurve::equal_gain) noexcept;
    /// Ends a play as its sound says. [rt]
    bool end_in_its_way(int index, Frames now, std::uint64_t by) noexcept;
    /// Ends a play in favour of another. Returns true if it was heard so briefly that both might add up. [rt]
    bool steal(int index, Frames now, std::uint64_t by) noexcept;

  private:
    /// Seconds; applies to a fade that starts while the play still rises, because the product of both must also stay
    /// below a click.
    static constexpr double shortest_fall_of_rising = 0.008;

    bool finish_turns(int index) noexcept;
    void drop(int index, Frames now) noexcept;

    PlayTable& table_;
};

} // namespace kiai::mixer
