// With KIAI_SILENT: what <kiai/load.h> declares does nothing.
#pragma once

#include <kiai/load.h>

namespace kiai::inline v0 {

inline LoadResult load_project(const std::filesystem::path&, const LoadOptions&) {
    return {};
}

inline LoadResult load_pack(std::vector<std::byte>, const LoadOptions&) {
    return {};
}

} // namespace kiai::inline v0
