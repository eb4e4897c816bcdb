// The calls of the system for files on the disk. file_posix.cpp and file_windows.cpp hold the same functions.
#pragma once

#include <cstddef>
#include <cstdint>
#include <filesystem>
#include <span>
#include <string>

namespace kiai::runtime {

struct OpenedFile {
    std::intptr_t handle = -1;
    std::uint64_t size = 0;
    std::string error = {}; ///< why the file cannot be read, in the system's words; empty if it can
};

/// Opens a file for reading. The caller closes it, also after an error. [any]
OpenedFile open_file(const std::filesystem::path& path);
void close_file(std::intptr_t handle) noexcept;
/// Returns how many bytes were read; fewer only at the end, or if the disk fails. [any]
std::size_t read_file(std::intptr_t handle, std::uint64_t from, std::span<std::byte> into) noexcept;
/// Maps `size` bytes into memory; returns nothing if that is not possible. [any]
std::span<const std::byte> map_file(std::intptr_t handle, std::uint64_t size) noexcept;
void unmap_file(std::span<const std::byte> bytes) noexcept;

} // namespace kiai::runtime
