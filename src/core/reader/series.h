// Names that differ in a number at their end alone: `oak-1`, `oak-2` …
#pragma once

#include <string>

namespace kiai::reader {

/// `oak` of `oak-12`; empty: it is not the name of a member of a series.
std::string series_of(const std::string& name);
/// The number of a member of a series (`oak-3` of `oak`), or -1.
int number_in_series(const std::string& name, const std::string& series);

} // namespace kiai::reader
