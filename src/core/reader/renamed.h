// Names of older versions: whoever still writes one is told the new one.
#pragma once

#include <string>
#include <string_view>

namespace kiai::reader {

/// What a key of a section is called now; empty if it was never called so.
std::string renamed_key(std::string_view section, std::string_view old);
/// The same of a value of a key; of a finding's code; of a kind of report.
std::string renamed_value(std::string_view key, std::string_view old);
std::string renamed_code(std::string_view old);
std::string renamed_report(std::string_view old);

} // namespace kiai::reader
