// Prints a line on standard error, for an engine without a log.
#pragma once

#include <cstdio>
#include <string>

namespace kiai::model {

/// Uses the C library, which works before any static constructor runs and ignores the locale.
inline void to_standard_error(std::string line) noexcept {
    line += '\n';
    std::fputs(line.c_str(), stderr);
}

} // namespace kiai::model
