// Decodes one audio file.
#pragma once

#include "core/reader/clip_files.h"
#include "runtime/audio/file_access.h"

#include <string>

namespace kiai::runtime {

/// Reads a file at its own rate, all of it or its head: any format that libsndfile reads, up to 8 channels; more than
/// two are folded to stereo. Of the facts, what the container holds is filled in. `most`: above 0, no more frames are
/// held than that, whatever there are. [any]
reader::Decoded decode(const FileAccess& access, const std::string& file, reader::Stream stream, Frames most = 0);

} // namespace kiai::runtime
