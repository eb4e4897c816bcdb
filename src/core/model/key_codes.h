// The names of keys: the `code` values of W3C UI Events.
#pragma once

#include <string>
#include <vector>

namespace kiai::model {

/// Returns all codes of the standard keyboards' sections (UI Events KeyboardEvent code Values, section 3.1).
const std::vector<std::string>& key_codes();
/// Returns true if `code` is one of them.
bool is_key_code(const std::string& code);
/// Returns the code that was most likely meant: `KeyA` for `a`, `A` and `65`; empty if none is near.
std::string nearest_key_code(const std::string& code);

} // namespace kiai::model
