// The content of a file as one number.
#pragma once

#include <cstdint>
#include <filesystem>
#include <optional>

namespace kiai::files {

/// XXH3, 64 bits, of all bytes; nothing where it cannot be read. [any]
std::optional<std::uint64_t> content_hash(const std::filesystem::path& file);

} // namespace kiai::files
