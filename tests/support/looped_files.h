// The bytes of audio files that contain a loop.
#pragma once

#include "support/signal.h"

#include <cstdint>
#include <string>

namespace support {

/// A WAV of 16 bits with a loop in its `smpl` chunk.
std::string wav_with_loop(const Signal& samples, std::uint32_t first, std::uint32_t last);

/// An AIFF of 16 bits whose instrument loops between two markers.
std::string aiff_with_loop(const Signal& samples, std::uint32_t begin, std::uint32_t end);

} // namespace support
