// Finds the present name for names of older versions and for words that people write by habit.
#pragma once

#include <string>
#include <string_view>

namespace kiai::reader {

/// Returns what a key of a section is called now, or an empty text if it never had that name.
std::string renamed_key(std::string_view section, std::string_view old);
/// Return the same for a value of a key, the code of a finding, and a kind of report.
std::string renamed_value(std::string_view key, std::string_view old);
std::string renamed_code(std::string_view old);
std::string renamed_report(std::string_view old);
/// Returns the key that somebody who writes `word` probably means, such as `gain` for `volume`; empty: no suggestion.
std::string usual_key(std::string_view word);

} // namespace kiai::reader
