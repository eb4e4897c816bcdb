// The order in which a voice hears its clip, with frames counted through all turns of a loop.
#pragma once

#include "core/mixer/play_numbers.h"
#include "core/model/audio.h"
#include "core/model/project.h"

#include <algorithm>
#include <cstdint>
#include <limits>
#include <vector>

namespace kiai::mixer {

/// The loop of a layer in one take. The frames of a play are counted through: those before the loop, its turns, then
/// those after it.
struct Lap {
    std::int64_t frames = 0;         ///< of the clip
    std::int64_t begin = 0, end = 0; ///< of the loop
    std::int64_t turns = 1;
    std::int64_t crossfade = 0;    ///< how many frames before `end` are mixed with those before `begin`
    std::vector<float> crossfaded; ///< what is heard there when another turn follows, planar
    bool loops = false, tail = false;

    /// The count of an endless loop: more than can be played, and small enough to count in frames.
    static constexpr std::int64_t endless = std::int64_t{1} << 32;

    /// [control] One pass if `loop` is off. Positions outside of the clip are clamped.
    Lap(const model::Audio& audio, const model::Loop& loop);

    std::int64_t turn() const noexcept { return end - begin; }
    /// Returns how many whole turns fit. Every voice asks in every block, and a 64-bit division is slow and rarely
    /// needed.
    std::int64_t whole_turns(std::int64_t since) const noexcept {
        if (since < turn()) return 0;
        return since >> 32 == 0 ? static_cast<std::uint32_t>(since) / static_cast<std::uint32_t>(turn())
                                : since / turn();
    }
    /// Returns the number of all frames with that many turns.
    std::int64_t length(std::int64_t of_turns) const noexcept { return frames + (of_turns - 1) * turn(); }

    /// A stretch of one kind.
    struct Run {
        std::int64_t from = 0; ///< in the clip, or in its crossfade
        std::int64_t count = 0;
        bool in_crossfade = false;
    };
    /// Returns the stretch that starts at frame `at`, 0 … length(of_turns) - 1. [rt]
    Run run(std::int64_t at, std::int64_t of_turns) const noexcept {
        if (at < begin) return {at, begin - at, false};
        const std::int64_t since = at - begin, number = whole_turns(since);
        if (number >= of_turns) {
            const std::int64_t from = end + at - begin - of_turns * turn();
            return {from, frames - from, false};
        }
        const std::int64_t offset = begin + since - number * turn();
        const bool last = number == of_turns - 1;
        if (last) return {offset, frames - offset, false}; // its end continues into the tail
        if (offset < end - crossfade) return {offset, end - crossfade - offset, false};
        return {offset - (end - crossfade), end - offset, true};
    }
    /// Returns the count at which a frame of the clip is heard first, with that many turns: in the first turn if it is
    /// before the loop's end.
    std::int64_t count_of(std::int64_t frame, std::int64_t of_turns) const noexcept {
        return frame < end || of_turns == 1 ? frame : frame + (of_turns - 1) * turn();
    }
    /// Returns the frame of the clip at a count, and how many turns follow. [rt]
    std::int64_t place(std::int64_t at, std::int64_t of_turns) const noexcept {
        const Run there = run(at, of_turns);
        return there.in_crossfade ? end - crossfade + there.from : there.from;
    }
    std::int64_t turns_after(std::int64_t at, std::int64_t of_turns) const noexcept {
        return std::max<std::int64_t>(0, of_turns - 1 - (at < begin ? 0 : whole_turns(at - begin)));
    }
    /// Returns the number of turns if the present one is to be the last that can still be heard whole; the taps of the
    /// voice reach up to frame `reach`. [rt]
    std::int64_t turns_until(std::int64_t reach) const noexcept {
        if (reach <= end - crossfade) return 1;
        return 1 + (reach - (end - crossfade) + turn() - 1) / turn();
    }
};

/// Returns how many turns a play makes, which its options may set; 0: endless. [rt]
inline std::int64_t turns_of(const Lap& lap, const PlayNumbers& numbers) noexcept {
    if (numbers.turns == PlayNumbers::as_written) return lap.turns;
    return numbers.turns == 0 ? Lap::endless : numbers.turns;
}

} // namespace kiai::mixer
