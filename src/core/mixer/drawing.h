// What a play is drawn to be, before it is known whether it may begin.
#pragma once

#include "core/mixer/picker.h"
#include "core/mixer/plan.h"

#include <kiai/report.h>

namespace kiai::mixer {

/// One layer of it.
struct DrawnLayer {
    bool heard = false; ///< else left out by chance
    int take = 0;
    int clip = 0;
    Mixed mixed;     ///< the constant part: sound, layer, spreads, follows of the trigger, call
    Frames from = 0; ///< in the clip
    Frames delay = 0;
    model::Draw draw;

    double ratio(const model::Audio& audio, double pitch, int rate) const noexcept;
};

/// dB: more than this a play's layer is never raised, whatever its gains add up to.
constexpr double most_gain = 48;

/// Gains of both sides, linear.
struct Sides {
    double left = 1, right = 1;
};
/// A mono clip at constant power, 0 dB in the middle; of a stereo one the near side stays and the far one falls. [rt]
Sides sides_of(const Mixed& mixed, double share, bool mono) noexcept;

/// The constant part of a play's layer: its draws and the trigger.
Mixed mix_of(const PlannedSound& planned, const model::Clip& clip, const PlayNumbers& options,
             const model::Draw& draw) noexcept;

/// Draws a layer of a sound's `draw.count`-th play; `heard`: in how many before it was heard, which its takes go by, so
/// that a shuffle is one of what is heard. The same, however often it is asked. [rt]
DrawnLayer draw_layer(const PlannedSound& planned, const std::vector<model::Clip>& clips, Picker& picker,
                      std::uint64_t heard, const PlayNumbers& options, const model::Draw& draw, int rate) noexcept;

} // namespace kiai::mixer
