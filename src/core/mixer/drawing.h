// The random choices of a play, made before it is known whether it may start.
#pragma once

#include "core/mixer/picker.h"
#include "core/mixer/plan.h"

#include <kiai/report.h>

namespace kiai::mixer {

/// One layer of the play.
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

/// dB: the maximum gain of a play's layer, whatever its gains add up to.
constexpr double most_gain = 48;

/// Linear gains of both sides.
struct Sides {
    double left = 1, right = 1;
};
/// Pans a mono clip at constant power with 0 dB in the centre, and balances a stereo clip: the near side stays and the
/// far side falls. [rt]
Sides sides_of(const Mixed& mixed, double share, bool mono) noexcept;

/// Returns the constant part of a layer: its random choices and the trigger.
Mixed mix_of(const PlannedSound& planned, const model::Clip& clip, const PlayNumbers& options,
             const model::Draw& draw) noexcept;

/// Draws a layer of a sound's `draw.count`-th play. `heard`: how many earlier plays contained the layer; it selects the
/// take, so that a shuffle covers what is heard. The result is the same for the same arguments. [rt]
DrawnLayer draw_layer(const PlannedSound& planned, const std::vector<model::Clip>& clips, Picker& picker,
                      std::uint64_t heard, const PlayNumbers& options, const model::Draw& draw, int rate) noexcept;

} // namespace kiai::mixer
