// Makes packs: a project as one file, with only what a run needs.
#pragma once

#include <kiai/facts.h>
#include <kiai/finding.h>

#include <cstdint>
#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// How a pack stores a clip, unless kiai.toml says so.
enum class PackAs {
    as_it_is, ///< compressed files unchanged, others as samples: the same output, bit for bit
    wav,      ///< samples: the largest, and the fastest to load
    flac,     ///< lossless up to 24 bits
    ogg,      ///< Ogg Vorbis: the smallest
};

struct PackSettings {
    std::filesystem::path out = {}; ///< the pack
    PackAs as = PackAs::as_it_is;
    double quality = 0.6; ///< of Ogg Vorbis, 0 … 1
};

/// A clip's file in a pack.
struct PackedClip {
    std::string file;   ///< as kiai.toml names it
    std::string coding; ///< `samples, 16-bit`, `samples, 32-bit float`, `as it is`, `FLAC`, `Ogg Vorbis`
    int rate = 0;       ///< frames per second
    int channels = 0;
    Frames frames = 0;
    std::uint64_t bytes = 0; ///< in the pack
};

struct PackResult {
    std::string project; ///< its name
    std::vector<PackedClip> clips;
    std::vector<std::string> left_out; ///< names of clips that nothing uses
    std::uint64_t bytes = 0;           ///< of the pack; 0 if it was not written
    std::uint64_t source_bytes = 0;    ///< of the files of all clips
    std::vector<Finding> findings;     ///< of reading the project, or why there is no pack
};

/// Makes a pack of a project: its entries without credits and accepted findings, and the clips that a sound or a
/// binding uses. Refuses a project with errors. Replaces an old pack only when the new one is complete. [control]
PackResult make_pack(const std::filesystem::path& folder, const PackSettings& settings);

/// Lists the content of a pack, and verifies every byte. [control]
PackResult list_pack(const std::filesystem::path& pack);

} // namespace kiai::inline v0
