// Maps the old project to the new one during a project change.
#pragma once

#include "core/mixer/plan.h"

#include <vector>

namespace kiai::mixer {

struct Change {
    /// What a change means for the plays of a sound.
    enum class Of : std::uint8_t {
        nothing,
        moved,    ///< its gains, pitches, pans, or what moves them
        restarts, ///< it would never end, and has changed
        gone,
    };
    /// [control] `before` and `after` are aligned; see model::align.
    Change(const Plan& before, const Plan& after);

    const Plan& before;
    const Plan& after;
    std::vector<Of> sounds;          ///< by their numbers before
    std::vector<int> clips;          ///< maps old numbers to new ones; -1: removed
    std::vector<int> bindings;       ///< the same way
    std::vector<int> actions;        ///< the same way
    std::vector<int> buses;          ///< the same way; one that goes into another bus now is a new one of the same name
    std::vector<bool> same_sequence; ///< by their numbers before

    /// Returns the new number; -1 for none and for a removed entry. [rt]
    static int now(const std::vector<int>& numbers, int number) noexcept {
        return number >= 0 && number < static_cast<int>(numbers.size()) ? numbers[static_cast<std::size_t>(number)]
                                                                        : -1;
    }
};

} // namespace kiai::mixer
