#include "model/number_text.h"

#include <charconv>
#include <cmath>

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

} // namespace kiai::model
