// Accepts or refuses a file that is decoded.
#pragma once

#include "core/reader/clip_files.h"

#include <memory>
#include <string>

namespace kiai::runtime {

constexpr double most_bytes = 1024.0 * 1024 * 1024; // of one clip in memory
constexpr int head_seconds = 1; // of a streamed clip, in memory: time enough to open the file and read on

reader::Decoded refuse(reader::Decoded decoded, FindingCode code, std::string message, std::string fix);
reader::Decoded refuse_length(reader::Decoded decoded, Frames frames, int rate);

/// Refuses a rate or a number of channels that no clip may have; else returns `decoded` unchanged.
reader::Decoded check_shape(reader::Decoded decoded, int rate, int channels);
/// Takes the samples that were read, and fills in how many frames the file has. Refuses samples that are no numbers, a
/// clip that is too long, and one without frames. `stated`: by the header. `most`: of the caller, 0: none.
/// `most_frames`: that fit into `most_bytes`.
reader::Decoded accept(reader::Decoded decoded, std::shared_ptr<model::Audio> audio, Frames stated, Frames most,
                       Frames most_frames);

} // namespace kiai::runtime
