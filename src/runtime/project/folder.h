// Finds the audio files of a folder.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::runtime {

/// Returns true if the path, with links followed, stays below the folder.
bool stays_inside(const std::filesystem::path& folder, const std::filesystem::path& file);

/// Returns true for the extensions of audio files, including formats that Kiai does not read.
bool named_like_audio(const std::filesystem::path& file);

struct Found {
    std::vector<std::filesystem::path> audio;  ///< sorted, the folder's path before them
    std::vector<std::filesystem::path> closed; ///< folders that may not be read
    std::size_t others = 0;                    ///< files of other kinds
};

/// Finds all audio files below a folder. Skips hidden files and folders, links to folders, and folders that are
/// projects of their own. [control]
Found find_audio(const std::filesystem::path& folder);

} // namespace kiai::runtime
