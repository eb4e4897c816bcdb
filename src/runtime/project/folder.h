// The files of a folder that may be audio.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::runtime {

/// True where the path, links followed, stays below the folder.
bool stays_inside(const std::filesystem::path& folder, const std::filesystem::path& file);

/// True for the extensions of audio files, those that are not read yet included.
bool named_like_audio(const std::filesystem::path& file);

struct Found {
    std::vector<std::filesystem::path> audio;  ///< sorted, the folder's path before them
    std::vector<std::filesystem::path> closed; ///< folders that may not be read
    std::size_t others = 0;                    ///< files of other kinds
};

/// All audio files below a folder. Hidden files and folders and links to folders are passed over, as are folders that
/// are projects of their own. [control]
Found find_audio(const std::filesystem::path& folder);

} // namespace kiai::runtime
