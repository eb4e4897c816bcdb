// Finds what can be heard: entries of a project, and audio files.
#pragma once

#include <kiai/finding.h>
#include <kiai/load.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// A sound or clip of a project, or an audio file.
struct Audible {
    std::string name; ///< of the entry; for a file made of its name, and of its folder's if that is only a number
    std::filesystem::path file; ///< empty: an entry of the project
};

struct Audibles {
    std::vector<Audible> all;      ///< in the order of the words
    std::vector<Finding> findings; ///< patterns and folders without a match; files that cannot be read
};

/// Finds entries and files by words: the name of a sound or clip, a pattern of names (`oak-*`), an audio file, a
/// folder, or a pattern of files. Names of the project come first; `project` may be empty. [control]
Audibles find_audible(const Project& project, const std::vector<std::string>& words);

/// Loads audio files as a project with a clip of each name. [control] Decodes the files.
LoadResult load_files(const std::vector<Audible>& files);

} // namespace kiai::inline v0
