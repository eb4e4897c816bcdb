// Starts plays.
#pragma once

#include "core/mixer/play_table.h"

namespace kiai::mixer {

class Starts {
  public:
    explicit Starts(PlayTable& table) noexcept : table_(table) {}

    /// Makes the choices of the play in case it starts now; changes nothing else. [rt]
    void draw(const Wanted& wanted) noexcept;
    /// Starts the drawn play, writes it and returns it. [rt]
    int begin(const Wanted& wanted, Frames now) noexcept;
    /// Makes a play that has just started rise over at least `frames`. [rt]
    void rise_over(int index, Frames frames) noexcept;

  private:
    void begin_layer(int chosen, std::uint32_t number, Frames now) noexcept;

    PlayTable& table_;
};

} // namespace kiai::mixer
