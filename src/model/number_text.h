// Numbers as text, the same under every locale.
#pragma once

#include <string>

namespace kiai::model {

/// With `digits` after the point.
std::string fixed(double value, int digits);
/// The same with its sign, + as well.
std::string signed_fixed(double value, int digits);
/// With up to six digits, as short as they allow: `0.8`, `1e+06`.
std::string general(double value);

} // namespace kiai::model
