// Finds which clips to load, and what remains of a project that cannot be loaded.
#pragma once

#include "core/reader/project_reader.h"

#include <kiai/load.h>

#include <set>
#include <string>
#include <vector>

namespace kiai::runtime {

/// Returns the clips that other scopes need, but none of those in `options`. `named` provides no samples. [control]
std::set<std::string> not_asked_for(const reader::Value& root, reader::ClipFiles& named, const LoadOptions& options,
                                    const reader::ReadOptions& wishes, reader::Findings& findings);

/// Returns an empty project with its findings.
LoadResult nothing_but(std::vector<Finding> findings);

} // namespace kiai::runtime
