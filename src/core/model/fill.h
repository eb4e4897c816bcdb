// Formats messages with gaps: fill("{} takes {}, not {}", …).
#pragma once

#include "core/model/number_text.h"

#include <concepts>
#include <initializer_list>
#include <string>
#include <string_view>
#include <type_traits>

namespace kiai::model {

namespace gap {
inline std::string text(std::string_view part) {
    return std::string(part);
}
template<std::integral Number>
std::string text(Number number) {
    return std::to_string(number);
}
inline std::string text(double number) {
    return shortest(number);
}
} // namespace gap

/// Returns `pattern` with its gaps filled in order: `{}` is the next part, `{0}` the first.
std::string fill_gaps(std::string_view pattern, std::initializer_list<std::string> parts);

/// Parts are texts and numbers. A number looks the same under every locale.
template<class... Parts>
std::string fill(std::string_view pattern, const Parts&... parts) {
    return fill_gaps(pattern, {gap::text(parts)...});
}

/// Joins texts: `a, b, c`.
template<class Texts>
std::string join(const Texts& texts, std::string_view between = ", ") {
    std::string all;
    for (const auto& text : texts) {
        if (!all.empty()) all += between;
        all += text;
    }
    return all;
}

} // namespace kiai::model
