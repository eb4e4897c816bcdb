// The nearest name to one that is missing.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace kiai::model {

/// The one of `names` that `wanted` was most likely meant to be: the same but for case, `-`, `_` or an extension, or
/// few typing slips away (Damerau-Levenshtein). Empty where none is near. Ties: the earlier.
std::string nearest(std::string_view wanted, const std::vector<std::string>& names);

/// True where only the case of letters differs.
bool same_but_for_case(std::string_view a, std::string_view b);

} // namespace kiai::model
