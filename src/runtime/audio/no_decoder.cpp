// For builds without a decoder of audio files.
#include "runtime/audio/audio_reader.h"

namespace kiai::runtime {

reader::Decoded decode(const FileAccess&, const std::string&, reader::Stream, Frames) {
    reader::Decoded decoded;
    decoded.code = FindingCode::file_unreadable;
    decoded.message = "is an audio file, and this build of Kiai decodes none";
    decoded.fix = "make the pack with `kiai pack --wav`, or set LoadOptions::decode";
    return decoded;
}

} // namespace kiai::runtime
