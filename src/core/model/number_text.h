// Numbers as text, the same under every locale.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace kiai::model {

/// With `digits` after the point.
std::string fixed(double value, int digits);
/// The same with its sign, + as well.
std::string signed_fixed(double value, int digits);
/// With up to six digits, as short as they allow: `0.8`, `1e+06`.
std::string general(double value);
/// With the fewest digits that tell it from every other number.
std::string shortest(double value);
/// Sixteen digits.
std::string hexadecimal(std::uint64_t value);

/// The number that a text is, digits with a point at most and perhaps a sign before them; nothing where it is beyond
/// the largest.
std::optional<double> read_decimal(std::string_view text);

} // namespace kiai::model
