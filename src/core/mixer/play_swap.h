// How plays continue when the project is changed.
#pragma once

#include "core/mixer/change.h"
#include "core/mixer/endings.h"
#include "core/mixer/play_limits.h"
#include "core/mixer/starts.h"

namespace kiai::mixer {

class PlaySwap {
  public:
    PlaySwap(PlayTable& table, Starts& starts, Endings& endings, const PlayLimits& limits) noexcept
        : table_(table), starts_(starts), endings_(endings), limits_(limits) {}

    /// See Plays::change. [rt]
    void change(const Change& change, PlayTables& next, const decisions::Record& cause, Frames now) noexcept;

  private:
    void go_on_with(const Change& change, PlayTables& next, Frames now) noexcept;
    void hold_still(int slot) noexcept;
    void go_on(int slot, const Change& change, const PlayTables& was, Frames now) noexcept;
    void begin_anew(int index, const decisions::Record& cause, Frames now) noexcept;
    void end_surplus(const decisions::Record& cause, Frames now) noexcept;
    void count_again() noexcept;

    PlayTable& table_;
    Starts& starts_;
    Endings& endings_;
    const PlayLimits& limits_;
    const PlannedLayer no_layer_{}; ///< the layer of voices whose layer was removed; it moves nothing
};

} // namespace kiai::mixer
