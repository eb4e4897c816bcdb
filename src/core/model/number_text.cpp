#include "core/model/number_text.h"

#include <charconv>
#include <cmath>
#ifndef __cpp_lib_to_chars
#include <locale>
#include <sstream>
#endif

namespace kiai::model {

std::string fixed(double value, int digits) {
    char text[400]; // the largest double has 309 digits before its point
    const auto end = std::to_chars(text, text + sizeof text, value, std::chars_format::fixed, digits).ptr;
    return {text, end};
}

std::string signed_fixed(double value, int digits) {
    return (std::signbit(value) ? "" : "+") + fixed(value, digits);
}

std::string general(double value) {
    char text[64];
    const auto end = std::to_chars(text, text + sizeof text, value, std::chars_format::general, 6).ptr;
    return {text, end};
}

std::string shortest(double value) {
    char text[64];
    return {text, std::to_chars(text, text + sizeof text, value).ptr};
}

std::string hexadecimal(std::uint64_t value) {
    std::string text(16, '0');
    for (std::size_t i = 16; i-- > 0; value >>= 4) text[i] = "0123456789abcdef"[value & 15];
    return text;
}

std::optional<double> read_decimal(std::string_view text) {
    if (text.starts_with('+')) text.remove_prefix(1);
    double value = 0;
#ifdef __cpp_lib_to_chars
    if (std::from_chars(text.data(), text.data() + text.size(), value).ec != std::errc()) return std::nullopt;
#else // a standard library that reads only whole numbers that way
    std::istringstream in{std::string(text)};
    in.imbue(std::locale::classic());
    if (!(in >> value)) return std::nullopt;
#endif
    return value;
}

} // namespace kiai::model
