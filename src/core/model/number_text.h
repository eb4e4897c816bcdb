// Formats numbers as text, the same under every locale.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace kiai::model {

/// Formats with `digits` after the point.
std::string fixed(double value, int digits);
/// The same with the sign, including +.
std::string signed_fixed(double value, int digits);
/// Formats with up to six digits, as short as possible: `0.8`, `1e+06`.
std::string general(double value);
/// Formats with the fewest digits that identify the number.
std::string shortest(double value);
/// Formats with sixteen digits.
std::string hexadecimal(std::uint64_t value);

/// Returns the number that a text contains: digits, at most one point, an optional sign. Returns nothing if the number
/// is too large.
std::optional<double> read_decimal(std::string_view text);

} // namespace kiai::model
