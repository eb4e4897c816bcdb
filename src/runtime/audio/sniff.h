// What a file is that is no audio, by its first bytes.
#pragma once

#include <istream>
#include <string>

namespace kiai::runtime {

/// What a file is that holds no sound which can be read: `a web page`, `a ZIP archive`, `a video (MP4)`; empty if its
/// first bytes say nothing of the kind. [any]
std::string what_else(std::istream& file);

} // namespace kiai::runtime
