// Finds the nearest name to an unknown one.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace kiai::model {

/// Returns the element of `names` that `wanted` most likely means: equal except for case, `-`, `_` or an extension, or
/// few typing errors away (Damerau-Levenshtein). Empty if none is near. Ties: the earlier.
std::string nearest(std::string_view wanted, const std::vector<std::string>& names);

/// Returns true if only the letter case differs.
bool same_but_for_case(std::string_view a, std::string_view b);

} // namespace kiai::model
