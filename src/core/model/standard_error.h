// The last resort of an engine that nobody listens to: a line on standard error.
#pragma once

#include <cstdio>
#include <string>

namespace kiai::model {

/// By the C library, which is there before any static constructor runs and knows no locale.
inline void to_standard_error(std::string line) noexcept {
    line += '\n';
    std::fputs(line.c_str(), stderr);
}

} // namespace kiai::model
