// Texts from outside, such as names of files, on one line of a terminal or a log.
#pragma once

#include <string>
#include <string_view>

namespace kiai::model {

/// Line breaks and other control characters as escapes: `\n`, `\x1b`.
std::string one_line(std::string_view text);

} // namespace kiai::model
