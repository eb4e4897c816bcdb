// What goes into a project when files are added to it: names, places, copies, entries, series.
#pragma once

#include "workshop/edit/document.h"
#include "workshop/edit/expand.h"

#include <kiai/workshop/add.h>

#include <filesystem>
#include <vector>

namespace kiai::workshop {

/// Copies what can be used below `folder`, edits `toml`, and reports the result in `added`. Gives the files that were
/// copied, to be taken back where the edit fails.
std::vector<std::filesystem::path> import_files(const std::filesystem::path& folder, std::vector<Wanted> wanted,
                                                const AddOptions& options, Document& toml, AddResult& added);

} // namespace kiai::workshop
