// Finds the users of entries.
#pragma once

#include "core/model/project.h"

#include <set>
#include <string>
#include <vector>

namespace kiai::workshop {

struct Uses {
    std::set<int> sounds;                                   ///< that a binding plays or stops
    std::set<int> clips;                                    ///< that a sound of the file, or a binding, uses
    std::set<std::string> zones;                            ///< that a binding names
    std::set<int> buses, dials, scopes, motions, sequences; ///< that anything names
};

Uses uses_of(const model::Project& project);

/// Return the users of an entry, one line each: `sound "oak", line 12`. A clip: its sounds and bindings; a sound: its
/// bindings.
std::vector<std::string> users_of_clip(const model::Project& project, int clip);
std::vector<std::string> users_of_sound(const model::Project& project, int sound);

} // namespace kiai::workshop
