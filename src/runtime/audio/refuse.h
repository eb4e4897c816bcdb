// Reasons why a file is not decoded.
#pragma once

#include "core/reader/clip_files.h"

#include <string>

namespace kiai::runtime {

constexpr double most_bytes = 1024.0 * 1024 * 1024; // of one clip in memory
constexpr int head_seconds = 1; // of a streamed clip, in memory: time enough to open the file and read on

reader::Decoded refuse(reader::Decoded decoded, FindingCode code, std::string message, std::string fix);
reader::Decoded refuse_length(reader::Decoded decoded, Frames frames, int rate);
reader::Decoded refuse_silence(reader::Decoded decoded); ///< it holds no frames

/// Refuses a rate or a number of channels that no clip may have; else returns `decoded` unchanged.
reader::Decoded check_shape(reader::Decoded decoded, int rate, int channels);
/// Refuses samples that are no numbers; else returns `decoded` unchanged.
reader::Decoded check_finite(reader::Decoded decoded, const model::Audio& audio);

} // namespace kiai::runtime
