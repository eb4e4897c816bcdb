// Reads the project of a pack.
#pragma once

#include <kiai/load.h>

#include <filesystem>

namespace kiai::runtime {

/// [control]
LoadResult read_pack(const std::filesystem::path& path, const LoadOptions& options);

} // namespace kiai::runtime
