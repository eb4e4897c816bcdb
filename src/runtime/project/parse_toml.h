// Parses TOML into values. The only code that uses the TOML library.
#pragma once

#include "core/reader/value.h"

#include <string>
#include <string_view>
#include <variant>

namespace kiai::runtime {

struct SyntaxError {
    enum class Kind { syntax, too_many_parts, too_deep };
    model::Source source;
    std::string message; ///< for people
    Kind kind = Kind::syntax;
};

/// [control]
std::variant<reader::Value, SyntaxError> parse_toml(std::string_view text);

/// Returns what to do about a syntax error, by its kind and the text around it.
std::string toml_fix(std::string_view document, const SyntaxError& error);

} // namespace kiai::runtime
