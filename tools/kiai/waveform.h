// Draws levels over time with the characters of a terminal.
#pragma once

#include <kiai/workshop/catalogue.h>

#include <string>

namespace kiai::tool {

/// Returns several lines: levels from -60 to 0 dBFS, then the first audible frame, the loop, clipped frames, and time.
std::string waveform(const ClipDetails& clip);

/// Returns one line of `columns` characters.
std::string small_waveform(const ClipDetails& clip, std::size_t columns);

} // namespace kiai::tool
