// Plays that continue at another place of their clips.
#pragma once

#include "core/mixer/play_table.h"

#include <span>

namespace kiai::mixer {

class Seeks {
  public:
    explicit Seeks(PlayTable& table) noexcept : table_(table) {}

    /// A play continues at a place, seconds of its clips: at once where nothing of it is heard, else once it has fallen
    /// silent, when PlayMixer calls `go`. [rt]
    void ask(int index, double seconds, Frames now) noexcept;
    /// It goes there; `voices` are its own. [rt]
    void go(const ActivePlay& play, std::span<const int> voices) noexcept;

  private:
    PlayTable& table_;
};

} // namespace kiai::mixer
