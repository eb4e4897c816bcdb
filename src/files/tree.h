// A TOML document as plain values that know where they stand, in the order of the file.
#pragma once

#include "model/project.h"

#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace kiai::files {

struct Member;

struct Value {
    enum class Kind { text, number, truth, list, table, date };
    Kind kind = Kind::table;
    std::string text;
    double number = 0;
    bool truth = false;
    std::vector<Value> items;    ///< list
    std::vector<Member> members; ///< table
    model::Source source;

    const Value* find(std::string_view key) const noexcept;
};

struct Member {
    std::string key;
    model::Source source; ///< of the key
    Value value;
};

/// What kind of value it is, for messages: `a text`, `a number`, …
const char* kind_name(Value::Kind kind) noexcept;

struct SyntaxError {
    model::Source source;
    std::string sentence;
};

/// The one place that knows the TOML library. [control]
std::variant<Value, SyntaxError> parse_toml(std::string_view text);

/// What to do about a syntax error, judged by the text around it. `sentence` is the parser's.
std::string toml_mend(std::string_view document, const SyntaxError& error);

} // namespace kiai::files
