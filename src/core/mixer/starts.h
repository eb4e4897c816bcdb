// How plays begin.
#pragma once

#include "core/mixer/play_table.h"

namespace kiai::mixer {

class Starts {
  public:
    explicit Starts(PlayTable& table) noexcept : table_(table) {}

    /// What the play would be if it began now; asking changes nothing. [rt]
    void draw(const Wanted& wanted) noexcept;
    /// Starts what was drawn, and writes it; the play. [rt]
    int begin(const Wanted& wanted, Frames now) noexcept;
    /// Makes a play that has just begun rise over at least `frames`. [rt]
    void rise_over(int index, Frames frames) noexcept;

  private:
    void begin_layer(int chosen, std::uint32_t number, Frames now) noexcept;

    PlayTable& table_;
};

} // namespace kiai::mixer
