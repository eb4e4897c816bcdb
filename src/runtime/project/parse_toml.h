// TOML as values: the one place that knows the TOML library.
#pragma once

#include "core/reader/value.h"

#include <string>
#include <string_view>
#include <variant>

namespace kiai::runtime {

struct SyntaxError {
    model::Source source;
    std::string message;
};

/// [control]
std::variant<reader::Value, SyntaxError> parse_toml(std::string_view text);

/// What to do about a syntax error, judged by the text around it. `sentence` is the parser's.
std::string toml_fix(std::string_view document, const SyntaxError& error);

} // namespace kiai::runtime
