// The format of a pack: one file that an app ships in place of its project's folder.
#pragma once

#include "core/reader/value.h"

#include <kiai/facts.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace kiai::runtime {

// The file, all numbers little-endian: a header of 64 bytes (PackHead); the blobs, each at a multiple of 64; the index.
inline constexpr std::array<char, 8> pack_magic{'K', 'I', 'A', 'I', 'P', 'A', 'C', 'K'};
inline constexpr std::uint32_t pack_version = 1;
inline constexpr std::size_t pack_head_bytes = 64;
inline constexpr std::uint64_t pack_alignment = 64;
inline constexpr std::uint64_t pack_block = 1 << 18; ///< bytes of a blob that have a checksum of their own

struct PackHead {
    std::array<char, 8> magic = pack_magic;
    std::uint32_t version = pack_version;
    std::uint64_t bytes = 0; ///< of the whole file
    std::uint64_t index_from = 0;
    std::uint64_t index_bytes = 0;
    std::uint64_t index_sum = 0;
    std::uint64_t sum = 0; ///< of all above
};

/// A range of bytes in the file, with the checksum of each block.
struct PackBlob {
    std::uint64_t from = 0;
    std::uint64_t bytes = 0;
    std::vector<std::uint64_t> sums;
};

/// The coding of a clip in the pack.
enum class PackCoding : std::uint8_t {
    file,        ///< the audio file as it was
    flac,        ///< an audio file that the pack's maker has made
    planar,      ///< samples as a clip in memory has them: one channel after the other
    interleaved, ///< samples frame by frame, as a stream reads them
    ogg,         ///< as `flac`
};

/// Returns true if a clip is stored as samples; otherwise as an audio file that must be decoded.
constexpr bool holds_samples(PackCoding coding) noexcept {
    return coding == PackCoding::planar || coding == PackCoding::interleaved;
}

struct PackClip {
    std::string file; ///< as the entries name it
    PackCoding coding = PackCoding::file;
    bool narrow = false; ///< samples of 16 bits, else floats
    std::int32_t rate = 0;
    std::int32_t channels = 0;
    std::int64_t frames = 0;
    std::vector<LoopPoints> loops;
    PackBlob blob;
};

struct PackIndex {
    std::string fingerprint; ///< of the project's folder: a trace of one fits the other
    std::string made_by;     ///< the version of Kiai
    reader::Value root;      ///< the entries, as kiai.toml has them
    std::vector<PackClip> clips;
};

/// Returns XXH3, 64 bits, seed 0.
std::uint64_t pack_checksum(std::span<const std::byte> bytes) noexcept;

// The fields in their order, shared by writer and reader.

template<class Archive>
void fields(Archive& archive, PackHead& head) {
    for (char& letter : head.magic) archive.byte(letter);
    archive.fixed(head.version);
    for (std::uint64_t* number : {&head.bytes, &head.index_from, &head.index_bytes, &head.index_sum})
        archive.fixed(*number);
}

template<class Archive>
void fields(Archive& archive, reader::Value& value) {
    using Kind = reader::Value::Kind;
    const auto nested = archive.nested();
    archive.choice(value.kind, Kind::date);
    archive.number(value.source.line);
    archive.number(value.source.column);
    switch (value.kind) {
    case Kind::text:
        return archive.text(value.text);
    case Kind::number:
        return archive.real(value.number);
    case Kind::truth:
        return archive.byte(value.truth);
    case Kind::list:
        return archive.list(value.items, [&](reader::Value& item) { fields(archive, item); });
    case Kind::table:
        return archive.list(value.members, [&](reader::Member& member) {
            archive.text(member.key);
            archive.number(member.source.line);
            archive.number(member.source.column);
            fields(archive, member.value);
        });
    case Kind::date:
        return;
    }
}

template<class Archive>
void fields(Archive& archive, PackClip& clip) {
    archive.text(clip.file);
    archive.choice(clip.coding, PackCoding::ogg);
    archive.byte(clip.narrow);
    archive.number(clip.rate);
    archive.number(clip.channels);
    archive.number(clip.frames);
    archive.list(clip.loops, [&](LoopPoints& loop) {
        archive.number(loop.begin);
        archive.number(loop.end);
    });
    archive.number(clip.blob.from);
    archive.number(clip.blob.bytes);
    archive.list(clip.blob.sums, [&](std::uint64_t& sum) { archive.fixed(sum); });
}

template<class Archive>
void fields(Archive& archive, PackIndex& index) {
    archive.text(index.fingerprint);
    archive.text(index.made_by);
    fields(archive, index.root);
    archive.list(index.clips, [&](PackClip& clip) { fields(archive, clip); });
}

} // namespace kiai::runtime
