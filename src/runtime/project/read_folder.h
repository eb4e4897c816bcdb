// Reads the project of a folder.
#pragma once

#include "runtime/project/folder_clips.h"

#include <kiai/load.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::runtime {

/// Reads the folder's kiai.toml, and its clips through `clips`. [control]
LoadResult read_folder(FolderClips& clips, const LoadOptions& options = {});

/// The text of `folder`/kiai.toml, or the finding that explains why there is none.
struct ProjectText {
    std::string text;
    std::vector<Finding> findings; ///< empty, or the one that says why
};
ProjectText read_text(const std::filesystem::path& folder, const FileAccess& access);
ProjectText read_text(const std::filesystem::path& folder);

} // namespace kiai::runtime
