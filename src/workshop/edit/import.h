// Adds files to a project: names, places, copies, entries, series.
#pragma once

#include "workshop/edit/document.h"
#include "workshop/edit/expand.h"

#include <kiai/workshop/add.h>

#include <filesystem>
#include <vector>

namespace kiai::workshop {

/// Copies usable files below `folder`, edits `toml`, and reports the result in `added`. Returns the copied files, to be
/// removed if the edit fails.
std::vector<std::filesystem::path> import_files(const std::filesystem::path& folder, std::vector<Wanted> wanted,
                                                const AddOptions& options, Document& toml, AddResult& added);

} // namespace kiai::workshop
