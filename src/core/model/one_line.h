// Makes texts from outside, such as file names, safe for one line of a terminal or a log.
#pragma once

#include <string>
#include <string_view>

namespace kiai::model {

/// Escapes line breaks and other control characters: `\n`, `\x1b`.
std::string one_line(std::string_view text);

} // namespace kiai::model
