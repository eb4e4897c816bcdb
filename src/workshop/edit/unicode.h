// Turns file names in any script into entry names and safe texts.
#pragma once

#include <string>
#include <string_view>

namespace kiai::workshop {

/// Returns true if the text is valid UTF-8.
bool is_utf8(std::string_view text) noexcept;

/// Returns lower-case letters without marks: `Grün` becomes `grun`, `Straße` `strasse`, `Æble` `aeble`. Letters of
/// other scripts stay. Returns the text itself if it is not valid UTF-8.
std::string plain_letters(const std::string& text);

} // namespace kiai::workshop
