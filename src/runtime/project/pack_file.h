// A pack. Its header and index are checked when it is opened, and its blobs when they are read.
#pragma once

#include "runtime/project/pack_format.h"
#include "runtime/system/file_bytes.h"

#include <kiai/clip_source.h>
#include <kiai/finding.h>

#include <filesystem>
#include <memory>
#include <span>
#include <string>

namespace kiai::runtime {

struct Pack {
    std::shared_ptr<const FileBytes> file;
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
PackError open_pack(std::shared_ptr<const FileBytes> file, Pack& pack);

/// Reads a blob, and ends before the first block with a wrong checksum. One thread at a time.
class BlobReader : public FileReader {
  public:
    BlobReader(std::shared_ptr<const FileBytes> file, PackBlob blob) : file_(std::move(file)), blob_(std::move(blob)) {}
    std::int64_t size() override { return static_cast<std::int64_t>(blob_.bytes); }
    std::int64_t read(std::int64_t from, std::span<std::byte> into) override;

  private:
    bool load(std::uint64_t block);

    std::shared_ptr<const FileBytes> file_;
    PackBlob blob_;
    std::vector<std::byte> held_; ///< one block
    std::uint64_t block_ = ~std::uint64_t{0};
};

/// Returns true if every block of a blob has its checksum. `bytes`: those of the blob.
bool whole(const PackBlob& blob, std::span<const std::byte> bytes) noexcept;

} // namespace kiai::runtime
