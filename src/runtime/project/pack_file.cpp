#include "runtime/project/pack_file.h"

#include "core/model/fill.h"
#include "runtime/project/pack_reader.h"

#define XXH_INLINE_ALL // no library is linked for it
#include <xxhash.h>

#include <algorithm>
#include <cstring>

namespace kiai::runtime {

std::uint64_t pack_checksum(std::span<const std::byte> bytes) noexcept {
    return XXH3_64bits(bytes.data(), bytes.size());
}

namespace {

constexpr std::uint64_t most_index = 64u << 20;
constexpr std::size_t summed = 8 + 4 + 4 * 8; ///< bytes of the head that its own checksum is of

bool begins_as_pack(std::span<const std::byte> head) {
    return head.size() >= pack_magic.size() && std::memcmp(head.data(), pack_magic.data(), pack_magic.size()) == 0;
}

/// Returns true if a clip is within the blobs and its numbers are possible.
bool fits(const PackClip& clip, std::uint64_t end) {
    const PackBlob& blob = clip.blob;
    const bool inside = blob.from >= pack_head_bytes && blob.from <= end && blob.bytes <= end - blob.from;
    if (!inside || blob.sums.size() != (blob.bytes + pack_block - 1) / pack_block) return false;
    if (clip.rate < 1000 || clip.rate > 768000 || clip.frames < 1 || clip.channels < 1) return false;
    for (const LoopPoints& loop : clip.loops)
        if (loop.begin < 0 || loop.begin >= loop.end || loop.end > clip.frames) return false;
    if (!holds_samples(clip.coding)) return true;
    const std::uint64_t frame = static_cast<std::uint64_t>(clip.channels) * (clip.narrow ? 2 : 4);
    return clip.channels <= 2 && static_cast<std::uint64_t>(clip.frames) <= blob.bytes / frame &&
           static_cast<std::uint64_t>(clip.frames) * frame == blob.bytes;
}

} // namespace

bool is_pack(const std::filesystem::path& path) {
    std::error_code error;
    if (!std::filesystem::is_regular_file(path, error)) return false;
    std::array<std::byte, pack_magic.size()> head{};
    return begins_as_pack(std::span(head).first(FileBytes(path).read(0, head)));
}

PackError open_pack(std::shared_ptr<const FileBytes> file, Pack& pack) {
    const auto damaged = [](std::string message) {
        return PackError{FindingCode::pack_damaged, std::move(message),
                         "make it again with `kiai pack`, or copy it again"};
    };
    pack.file = std::move(file);
    if (!pack.file->error().empty())
        return {FindingCode::no_project, model::fill("the pack cannot be read: {}", pack.file->error()),
                "check the path and the file's permissions"};
    std::array<std::byte, pack_head_bytes> bytes{};
    const std::size_t got = pack.file->read(0, bytes);
    if (!begins_as_pack(std::span(bytes).first(got)))
        return {FindingCode::pack_damaged, "this file is not a pack",
                "use a project's folder, or a pack made by `kiai pack`"};
    PackHead head;
    PackReader reader(bytes);
    fields(reader, head);
    reader.fixed(head.sum);
    if (got == bytes.size() && head.version != pack_version)
        return {FindingCode::unknown_format, model::fill("the pack has version {}", head.version),
                model::fill("this version of Kiai reads version {}: make the pack with it, or use a newer Kiai",
                            pack_version)};
    if (got < bytes.size() || head.sum != pack_checksum(std::span(bytes).first(summed)))
        return damaged("the pack's head is damaged");
    if (head.bytes != pack.file->size())
        return damaged(model::fill("the pack has {} bytes instead of {}", pack.file->size(), head.bytes));
    if (head.index_from > head.bytes || head.index_bytes != head.bytes - head.index_from ||
        head.index_bytes > most_index)
        return damaged("the pack's head is damaged");
    std::vector<std::byte> index(static_cast<std::size_t>(head.index_bytes));
    if (pack.file->read(head.index_from, index) != index.size() || pack_checksum(index) != head.index_sum)
        return damaged("the pack's index is damaged");
    PackReader entries(index);
    fields(entries, pack.index);
    std::uint64_t left = head.index_from; // blobs that overlap would take more memory than the file has bytes
    const bool fit = std::all_of(pack.index.clips.begin(), pack.index.clips.end(), [&](const PackClip& clip) {
        if (!fits(clip, head.index_from) || clip.blob.bytes > left) return false;
        left -= clip.blob.bytes;
        return true;
    });
    if (!entries.ok() || !entries.at_end() || !fit || pack.index.fingerprint.size() > 16)
        return damaged("the pack's index is damaged");
    return {};
}

bool whole(const PackBlob& blob, std::span<const std::byte> bytes) noexcept {
    for (std::size_t block = 0; block < blob.sums.size(); ++block) {
        const std::size_t from = block * pack_block;
        if (pack_checksum(bytes.subspan(from, std::min<std::size_t>(pack_block, bytes.size() - from))) !=
            blob.sums[block])
            return false;
    }
    return true;
}

bool BlobReader::load(std::uint64_t block) {
    if (block == block_) return true;
    block_ = ~std::uint64_t{0};
    const std::uint64_t from = block * pack_block;
    held_.resize(static_cast<std::size_t>(std::min(pack_block, blob_.bytes - from)));
    if (file_->read(blob_.from + from, held_) != held_.size()) return false;
    if (pack_checksum(held_) != blob_.sums[static_cast<std::size_t>(block)]) return false;
    block_ = block;
    return true;
}

std::int64_t BlobReader::read(std::int64_t from, std::span<std::byte> into) {
    std::size_t done = 0;
    auto at = static_cast<std::uint64_t>(std::max<std::int64_t>(0, from));
    while (done < into.size() && at < blob_.bytes && load(at / pack_block)) {
        const auto within = static_cast<std::size_t>(at % pack_block);
        const std::size_t count = std::min(into.size() - done, held_.size() - within);
        std::memcpy(into.data() + done, held_.data() + within, count);
        done += count;
        at += count;
    }
    return static_cast<std::int64_t>(done);
}

} // namespace kiai::runtime
