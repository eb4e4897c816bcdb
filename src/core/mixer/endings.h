// How plays are stopped.
#pragma once

#include "core/mixer/play_table.h"

namespace kiai::mixer {

class Endings {
  public:
    explicit Endings(PlayTable& table) noexcept : table_(table) {}

    /// Fades a play out over `fade`. False where it ends as soon anyhow. [rt]
    bool end_early(int index, Frames now, Frames fade, EndReason reason, std::uint64_t by,
                   FadeCurve curve = FadeCurve::equal_gain) noexcept;
    /// Ends a play in its sound's own way. [rt]
    bool end_in_its_way(int index, Frames now, std::uint64_t by) noexcept;
    /// Ends a play in favour of another. True if it was heard for so short a time that both might add up. [rt]
    bool steal(int index, Frames now, std::uint64_t by) noexcept;

  private:
    /// Of a fade that begins while a play still rises: the product of both has to stay below a click as well.
    static constexpr double shortest_fall_of_rising = 0.008;

    bool finish_turns(int index) noexcept;
    void drop(int index, Frames now) noexcept;

    PlayTable& table_;
};

} // namespace kiai::mixer
