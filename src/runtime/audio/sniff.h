// Names the kind of a file that is no audio, by its first bytes.
#pragma once

#include <istream>
#include <string>

namespace kiai::runtime {

/// Returns what a file is that cannot be read as sound: `a web page`, `a ZIP archive`, `a video (MP4)`; empty if its
/// first bytes are unknown. [any]
std::string what_else(std::istream& file);

} // namespace kiai::runtime
