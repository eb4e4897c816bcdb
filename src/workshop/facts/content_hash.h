// Reduces the content of a file to one number.
#pragma once

#include <cstdint>
#include <filesystem>
#include <optional>
#include <string_view>

namespace kiai::workshop {

/// Return XXH3, 64 bits, of all bytes; nothing if the file cannot be read. [any]
std::uint64_t content_hash_of(std::string_view text) noexcept;
std::optional<std::uint64_t> content_hash(const std::filesystem::path& file);

} // namespace kiai::workshop
