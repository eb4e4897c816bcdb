// A pack on the disk: its head and index are checked when it is opened, its blobs as they are read.
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

    /// Empty; else why it cannot be read: the system's own words.
    const std::string& error() const noexcept { return error_; }
    std::uint64_t size() const noexcept { return size_; }
    /// How many bytes were read: fewer only at the end, or where the disk fails.
    std::size_t read(std::uint64_t from, std::span<std::byte> into) const noexcept;

    /// All of it in the address space, as long as this lives. Whoever makes the file shorter meanwhile ends the
    /// process, so this is held for the moment of loading only; what plays on reads.
    class Map {
      public:
        explicit Map(const DiskFile& file);
        ~Map();
        Map(const Map&) = delete;
        Map& operator=(const Map&) = delete;
        /// Empty where it could not be mapped.
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

/// Why a pack cannot be used; without a message: it can.
struct PackError {
    FindingCode code = FindingCode::pack_damaged;
    std::string message = {};
    std::string fix = {};
};

/// True for a file that begins as a pack does. [control]
bool is_pack(const std::filesystem::path& path);

/// Opens a pack and reads its index. [control]
PackError open_pack(const std::filesystem::path& path, Pack& pack);

/// Reads a blob; ends before the first block whose checksum is another. One thread at a time.
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

/// True where every block of a blob has its checksum. `bytes`: those of the blob.
bool whole(const PackBlob& blob, std::span<const std::byte> bytes) noexcept;

} // namespace kiai::runtime
