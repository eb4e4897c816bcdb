// The bytes of a file, on the disk or in memory.
#pragma once

#include <cstddef>
#include <cstdint>
#include <filesystem>
#include <span>
#include <string>
#include <vector>

namespace kiai::runtime {

/// Any thread.
class FileBytes {
  public:
    explicit FileBytes(const std::filesystem::path& path);
    /// A file that the app has read itself.
    explicit FileBytes(std::vector<std::byte> held) : size_(held.size()), held_(std::move(held)), in_memory_(true) {}
    ~FileBytes();
    FileBytes(const FileBytes&) = delete;
    FileBytes& operator=(const FileBytes&) = delete;

    /// Returns why the file cannot be read, in the system's words; empty if it can.
    const std::string& error() const noexcept { return error_; }
    std::uint64_t size() const noexcept { return size_; }
    /// Returns how many bytes were read; fewer only at the end, or if the disk fails.
    std::size_t read(std::uint64_t from, std::span<std::byte> into) const noexcept;

    /// Maps a file into memory while it exists. Truncating the file in the meantime would end the process, so the map
    /// exists only during loading; streams read instead.
    class Map {
      public:
        explicit Map(const FileBytes& file);
        ~Map();
        Map(const Map&) = delete;
        Map& operator=(const Map&) = delete;
        /// Returns nothing if the file could not be mapped.
        std::span<const std::byte> bytes() const noexcept { return bytes_; }

      private:
        std::span<const std::byte> bytes_;
        void* handle_ = nullptr; ///< what must be given back to the system
    };

  private:
    /// The system's functions for a file on the disk.
    std::size_t read_disk(std::uint64_t from, std::span<std::byte> into) const noexcept;

    std::intptr_t handle_ = -1;
    std::uint64_t size_ = 0;
    std::string error_;
    std::vector<std::byte> held_;
    bool in_memory_ = false;
};

} // namespace kiai::runtime
