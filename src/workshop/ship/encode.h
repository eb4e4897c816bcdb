// Encodes samples as a compressed file in memory.
#pragma once

#include "core/model/audio.h"

#include <string>

namespace kiai::workshop {

enum class Encoding { wav, flac, ogg, opus, mp3 };

struct Encoded {
    std::string bytes;
    std::string error; ///< why there are none: the encoder's own words
};

/// Encodes all frames of a clip in memory. `quality`: of the lossy
/// encodings, 0 … 1. WAV and FLAC have 16 bits if the clip is `narrow`, otherwise 24. [any]
Encoded encode(const model::Audio& audio, Encoding encoding, double quality);

} // namespace kiai::workshop
