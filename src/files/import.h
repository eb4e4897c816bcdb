// What goes into a project when files are added to it: names, places, copies, entries, series.
#pragma once

#include "files/document.h"
#include "files/expand.h"

#include <kiai/add.h>

#include <filesystem>
#include <vector>

namespace kiai::files {

/// Copies what can be used below `folder`, edits `toml`, and tells of it in `added`. Gives the files that were copied,
/// to be taken back where the edit fails.
std::vector<std::filesystem::path> import_files(const std::filesystem::path& folder, std::vector<Wanted> wanted,
                                                const AddOptions& options, Document& toml, Added& added);

} // namespace kiai::files
