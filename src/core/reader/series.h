// Names that differ only in a number at the end: `oak-1`, `oak-2` …
#pragma once

#include <string>

namespace kiai::reader {

/// Returns `oak` for `oak-12`; empty if the name has no number.
std::string series_of(const std::string& name);
/// Returns the number of a member of a series (3 for `oak-3` of `oak`), or -1.
int number_in_series(const std::string& name, const std::string& series);

} // namespace kiai::reader
