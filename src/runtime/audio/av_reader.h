// Decodes AAC and Apple Lossless files.
#pragma once

#include "core/reader/clip_files.h"
#include "runtime/audio/file_access.h"

#include <istream>
#include <string>

namespace kiai::runtime {

/// Returns true for an MP4 container (M4A) and for AAC without one (ADTS). Reads only the first bytes.
bool is_av_file(std::istream& file);

/// The same as `decode` (audio_reader.h), for a file that `is_av_file`. [any]
reader::Decoded decode_av(const FileAccess& access, const std::string& file, reader::Stream stream, Frames most);

} // namespace kiai::runtime
