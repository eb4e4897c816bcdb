// The names of keys: the `code` values of W3C UI Events.
#pragma once

#include <string>
#include <vector>

namespace kiai::model {

/// All codes of the standard keyboards' sections (UI Events KeyboardEvent code Values, section 3.1).
const std::vector<std::string>& key_codes();

} // namespace kiai::model
