#include "core/model/number_text.h"

#include <charconv>
#include <cmath>
#ifndef __cpp_lib_to_chars
#include <algorithm>
#include <iomanip>
#include <locale>
#include <sstream>
#endif

namespace kiai::model {

#ifdef __cpp_lib_to_chars

std::string fixed(double value, int digits) {
    char text[400]; // the largest double has 309 digits before its point
    const auto end = std::to_chars(text, text + sizeof text, value, std::chars_format::fixed, digits).ptr;
    return {text, end};
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

std::optional<double> read_decimal(std::string_view text) {
    if (text.starts_with('+')) text.remove_prefix(1);
    double value = 0;
    if (std::from_chars(text.data(), text.data() + text.size(), value).ec != std::errc()) return std::nullopt;
    return value;
}

#else // a standard library that writes and reads only whole numbers that way

namespace {

/// Writes the text of a number without the conventions of any country.
std::string written(double value, std::ios::fmtflags notation, int digits) {
    std::ostringstream out;
    out.imbue(std::locale::classic());
    out.flags(notation);
    out << std::setprecision(digits) << value;
    return out.str();
}

} // namespace

std::string fixed(double value, int digits) {
    return written(value, std::ios::fixed, digits);
}

std::string general(double value) {
    return written(value, {}, 6);
}

std::string shortest(double value) {
    std::string text;
    int digits = 0; // after the first
    do text = written(value, std::ios::scientific, digits);
    while (std::isfinite(value) && read_decimal(text) != value && digits++ < 17);
    if (!std::isfinite(value)) return text;
    const int exponent = std::stoi(text.substr(text.find('e') + 1));
    const std::string plain = written(value, std::ios::fixed, std::max(0, digits - exponent));
    return plain.size() <= text.size() ? plain : text;
}

std::optional<double> read_decimal(std::string_view text) {
    if (text.starts_with('+')) text.remove_prefix(1);
    double value = 0;
    std::istringstream in{std::string(text)};
    in.imbue(std::locale::classic());
    if (!(in >> value)) return std::nullopt;
    return value;
}

#endif

std::string signed_fixed(double value, int digits) {
    return (std::signbit(value) ? "" : "+") + fixed(value, digits);
}

std::string hexadecimal(std::uint64_t value) {
    std::string text(16, '0');
    for (std::size_t i = 16; i-- > 0; value >>= 4) text[i] = "0123456789abcdef"[value & 15];
    return text;
}

} // namespace kiai::model
