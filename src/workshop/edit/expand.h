// Expands "a folder" or "*.wav" into single files.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::workshop {

struct Wanted {
    std::filesystem::path file;
    std::filesystem::path below; ///< its path from the folder that was given, that folder's name first; else its name
    std::string why;             ///< why it cannot be had; empty: it can
    std::string fix;
};

struct Expanded {
    std::vector<Wanted> files; ///< each once
    std::size_t others = 0;    ///< passed over in folders
};

/// Expands files, folders and patterns. [control]
Expanded expand(const std::vector<std::filesystem::path>& what);

} // namespace kiai::workshop
