// Moves plays to another position in their clips.
#pragma once

#include "core/mixer/play_table.h"

#include <span>

namespace kiai::mixer {

class Seeks {
  public:
    explicit Seeks(PlayTable& table) noexcept : table_(table) {}

    /// Requests a position, in seconds of the play's clips. The play moves at once if nothing of it is heard; otherwise
    /// it fades out first, and PlayMixer calls `go` when it is silent. [rt]
    void ask(int index, double seconds, Frames now) noexcept;
    /// Moves the play; `voices` are its own. [rt]
    void go(const ActivePlay& play, std::span<const int> voices) noexcept;

  private:
    PlayTable& table_;
};

} // namespace kiai::mixer
