// A pack on the disk. Its header and index are checked when it is opened, and its blobs when they are read.
#pragma once

#include "runtime/project/pack_format.h"

#include <kiai/clip_source.h>
#include <kiai/finding.h>

#include <filesystem>
#include <memory>
#include <span>
#include <string>

namespace kiai::runtime {

/// The bytes of a file on the disk. Any thread.
class DiskFile {
  public:
    explicit DiskFile(const std::filesystem::path& path);
    ~DiskFile();
    DiskFile(const DiskFile&) = delete;
    DiskFile& operator=(const DiskFile&) = delete;

    /// Returns why the file cannot be read, in the system's words; empty if it can.
    const std::string& error() const noexcept { return error_; }
    std::uint64_t size() const noexcept { return size_; }
    /// Returns how many bytes were read; fewer only at the end, or if the disk fails.
    std::size_t read(std::uint64_t from, std::span<std::byte> into) const noexcept;

    /// Maps a file into memory while it exists. Truncating the file in the meantime would end the process, so the map
    /// exists only during loading; streams read instead.
    class Map {
      public:
        explicit Map(const DiskFile& file);
        ~Map();
        Map(const Map&) = delete;
        Map& operator=(const Map&) = delete;
        /// Returns nothing if the file could not be mapped.
        std::span<const std::byte> bytes() const noexcept { return bytes_; }

      private:
        std::span<const std::byte> bytes_;
    };

  private:
    int handle_ = -1;
    std::uint64_t size_ = 0;
    std::string error_;
};

struct Pack {
    std::shared_ptr<const DiskFile> file;
    PackIndex index;
};

/// Why a pack cannot be used; without a message it can.
struct PackError {
    FindingCode code = FindingCode::pack_damaged;
    std::string message = {};
    std::string fix = {};
};

/// Returns true for a file that starts as a pack does. [control]
bool is_pack(const std::filesystem::path& path);

/// Opens a pack and reads its index. [control]
PackError open_pack(const std::filesystem::path& path, Pack& pack);

/// Reads a blob, and ends before the first block with a wrong checksum. One thread at a time.
class BlobReader : public FileReader {
  public:
    BlobReader(std::shared_ptr<const DiskFile> file, PackBlob blob) : file_(std::move(file)), blob_(std::move(blob)) {}
    std::int64_t size() override { return static_cast<std::int64_t>(blob_.bytes); }
    std::int64_t read(std::int64_t from, std::span<std::byte> into) override;

  private:
    bool load(std::uint64_t block);

    std::shared_ptr<const DiskFile> file_;
    PackBlob blob_;
    std::vector<std::byte> held_; ///< one block
    std::uint64_t block_ = ~std::uint64_t{0};
};

/// Returns true if every block of a blob has its checksum. `bytes`: those of the blob.
bool whole(const PackBlob& blob, std::span<const std::byte> bytes) noexcept;

} // namespace kiai::runtime
