// Packs: a project as one file, with just what a run needs.
#pragma once

#include <kiai/facts.h>
#include <kiai/finding.h>

#include <cstdint>
#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// How a clip lies in a pack, where kiai.toml does not say it.
enum class PackAs {
    as_it_is, ///< a compressed file as it is, any other as samples: what is heard is the same, bit for bit
    wav,      ///< samples: the largest, and the fastest to load
    flac,     ///< nothing is lost of up to 24 bits
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
    std::uint64_t bytes = 0;           ///< of the pack; 0 where it was not written
    std::uint64_t source_bytes = 0;    ///< of the clips' files, those that are left out too
    std::vector<Finding> findings;     ///< of reading the project; or why there is no pack
};

/// Makes a pack of a project: its entries without credits and accepted findings, and the clips that a sound or a
/// binding uses. A project with errors is not packed. The old pack is there until the new one is whole. [control]
PackResult make_pack(const std::filesystem::path& folder, const PackSettings& settings);

/// Tells what a pack holds, and checks every byte of it. [control]
PackResult list_pack(const std::filesystem::path& pack);

} // namespace kiai::inline v0
