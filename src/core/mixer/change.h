// From one project to the next while it plays: what became of what.
#pragma once

#include "core/mixer/plan.h"

#include <vector>

namespace kiai::mixer {

struct Change {
    /// What a change means for the plays of a sound.
    enum class Of : std::uint8_t {
        nothing,
        moved,    ///< its gains, pitches, pans, or what moves them
        restarts, ///< it would continue for ever, and has changed
        gone,
    };
    /// [control] `before` and `after` are aligned, see model::align.
    Change(const Plan& before, const Plan& after);

    const Plan& before;
    const Plan& after;
    std::vector<Of> sounds;          ///< by their numbers before
    std::vector<int> clips;          ///< their numbers before become these; -1: gone
    std::vector<int> bindings;       ///< the same way
    std::vector<int> actions;        ///< the same way
    std::vector<int> buses;          ///< the same way; one that goes into another bus now is a new one of the same name
    std::vector<bool> same_sequence; ///< by their numbers before

    /// What became of a number; of none, or of one that is gone: -1. [rt]
    static int now(const std::vector<int>& numbers, int number) noexcept {
        return number >= 0 && number < static_cast<int>(numbers.size()) ? numbers[static_cast<std::size_t>(number)]
                                                                        : -1;
    }
};

} // namespace kiai::mixer
