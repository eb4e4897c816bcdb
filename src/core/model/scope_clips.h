// Which parts of the app's life need which clips.
#pragma once

#include "core/model/project.h"

#include <set>

namespace kiai::model {

/// For each clip the scopes that it is used in by bindings and sequences; -1: by one that belongs to none. What nothing
/// uses has none.
std::vector<std::set<int>> scopes_of_clips(const Project& project);

} // namespace kiai::model
