// Finds the files that a pattern stands for.
#pragma once

#include <filesystem>
#include <vector>

namespace kiai::workshop {

/// Returns the paths that match a pattern with `*`, `?` and `[`, sorted. [control]
std::vector<std::filesystem::path> matching(const std::filesystem::path& pattern);

} // namespace kiai::workshop
