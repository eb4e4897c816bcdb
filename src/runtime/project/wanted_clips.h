// Which clips of a project are loaded, and what is left where nothing can be.
#pragma once

#include "core/reader/project_reader.h"

#include <kiai/load.h>

#include <set>
#include <string>
#include <vector>

namespace kiai::runtime {

/// The clips that none of the scopes of `options` needs, but others do. `named` gives no samples. [control]
std::set<std::string> not_asked_for(const reader::Value& root, reader::ClipFiles& named, const LoadOptions& options,
                                    const reader::ReadOptions& wishes, reader::Findings& findings);

/// A project without anything in it, which knows why.
LoadResult nothing_but(std::vector<Finding> findings);

} // namespace kiai::runtime
