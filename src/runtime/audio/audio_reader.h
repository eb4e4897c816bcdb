// Decodes one audio file.
#pragma once

#include "core/reader/clip_files.h"
#include "runtime/audio/file_access.h"

#include <string>

namespace kiai::runtime {

/// Reads a file at its own rate, all of it or its head: any format that libsndfile reads, AAC and Apple Lossless
/// by FFmpeg's libraries, up to 8 channels. More than
/// two are mixed to stereo. Fills in the facts that the container states. `most`: if above 0, keeps at most that many
/// frames. [any]
reader::Decoded decode(const FileAccess& access, const std::string& file, reader::Stream stream, Frames most = 0);

} // namespace kiai::runtime
