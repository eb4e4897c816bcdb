// Tests and conversions of the letters a-z that do not depend on the locale.
#pragma once

#include <string>

namespace kiai::model {

constexpr char lower(char c) noexcept {
    return c >= 'A' && c <= 'Z' ? static_cast<char>(c + ('a' - 'A')) : c;
}
inline std::string lower(std::string text) {
    for (char& c : text) c = lower(c);
    return text;
}

} // namespace kiai::model
