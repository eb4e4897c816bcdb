// State per sound, dial and bus of a project. A project change brings new tables.
#pragma once

#include "core/decisions/record.h"
#include "core/mixer/active.h"
#include "core/mixer/bus_mixer.h"
#include "core/mixer/ducks.h"
#include "core/mixer/holder_lines.h"
#include "core/mixer/movers.h"
#include "core/mixer/picker.h"
#include "core/mixer/plan.h"

#include <vector>

namespace kiai::mixer {

/// Settings for all plays of a sound.
struct GroupLevel {
    float gain = 1;
    bool muted = false;
    float now() const noexcept { return muted ? 0 : gain; }
};
struct SoundState {
    std::vector<Picker> picks;        ///< one per layer
    std::vector<std::uint64_t> heard; ///< the same way: in how many plays
    GroupLevel level;
    std::uint64_t accepted = 0;
    Frames last_start = -1;
    PlayLine line;   ///< all that sound
    int counted = 0; ///< those of them that its limit counts
};

struct PlayTables {
    /// Frames: the longest stretch that is mixed at once.
    static constexpr int most_frames = 1024;

    /// [control] `plays`: the maximum number of plays.
    PlayTables(const Plan& plan, std::size_t plays);

    std::vector<SoundState> sounds;
    std::vector<double> dials;
    std::vector<double> own;         ///< most_own per play
    std::vector<int> on_bus;         ///< how many of those that limits count are on each bus
    std::vector<Frames> last_on_bus; ///< when the last began there; -1: none has
    BusGains gains;
    Ducks ducks;
    BusMixer buses;
    std::vector<DrawnLayer> drawn;
    std::vector<decisions::LayerRecord> layer_records;
    std::vector<Smoothed> smoothed; ///< most_movers per voice
    std::vector<dsp::Tone> tones;   ///< one per voice, or none where no layer has a filter
};

} // namespace kiai::mixer
