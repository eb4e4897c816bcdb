// Levels over time, drawn with the letters of a terminal.
#pragma once

#include <kiai/workshop/catalogue.h>

#include <string>

namespace kiai::tool {

/// Several lines: levels from -60 to 0 dBFS, then where it is first heard, where it loops, where it is clipped, and
/// time.
std::string waveform(const ClipDetails& clip);

/// One line of `columns` characters.
std::string small_waveform(const ClipDetails& clip, std::size_t columns);

} // namespace kiai::tool
