// Finds which scopes need which clips.
#pragma once

#include "core/model/project.h"

#include <set>

namespace kiai::model {

/// Returns for each clip the scopes whose bindings and sequences use it; -1 for those without a scope. An unused clip
/// has none.
std::vector<std::set<int>> scopes_of_clips(const Project& project);

} // namespace kiai::model
