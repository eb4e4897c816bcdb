// The bytes of a file, on the disk or in memory.
#pragma once

#include "runtime/system/file.h"

#include <vector>

namespace kiai::runtime {

/// Any thread.
class FileBytes {
  public:
    explicit FileBytes(const std::filesystem::path& path) : file_(open_file(path)) {}
    /// A file that the app has read itself.
    explicit FileBytes(std::vector<std::byte> held)
        : file_{-1, held.size()}, held_(std::move(held)), in_memory_(true) {}
    ~FileBytes() { close_file(file_.handle); }
    FileBytes(const FileBytes&) = delete;
    FileBytes& operator=(const FileBytes&) = delete;

    /// Returns why the file cannot be read, in the system's words; empty if it can.
    const std::string& error() const noexcept { return file_.error; }
    std::uint64_t size() const noexcept { return file_.size; }
    /// Returns how many bytes were read; fewer only at the end, or if the disk fails.
    std::size_t read(std::uint64_t from, std::span<std::byte> into) const noexcept;

    /// Maps a file into memory while it exists. Truncating the file in the meantime would end the process, so the map
    /// exists only during loading; streams read instead.
    class Map {
      public:
        explicit Map(const FileBytes& file)
            : mapped_(file.in_memory_ ? std::span<const std::byte>() : map_file(file.file_.handle, file.file_.size)),
              bytes_(file.in_memory_ ? std::span(file.held_) : mapped_) {}
        ~Map() { unmap_file(mapped_); }
        Map(const Map&) = delete;
        Map& operator=(const Map&) = delete;
        /// Returns nothing if the file could not be mapped.
        std::span<const std::byte> bytes() const noexcept { return bytes_; }

      private:
        std::span<const std::byte> mapped_, bytes_;
    };

  private:
    OpenedFile file_;
    std::vector<std::byte> held_;
    bool in_memory_ = false;
};

} // namespace kiai::runtime
