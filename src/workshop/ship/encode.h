// Encodes samples as a compressed file in memory.
#pragma once

#include "core/model/audio.h"

#include <string>

namespace kiai::workshop {

enum class Encoding { flac, ogg };

struct Encoded {
    std::string bytes;
    std::string error; ///< why there are none: the encoder's own words
};

/// Encodes all frames of a clip in memory. `quality`: of Ogg Vorbis, 0 … 1. [any]
Encoded encode(const model::Audio& audio, Encoding encoding, double quality);

} // namespace kiai::workshop
