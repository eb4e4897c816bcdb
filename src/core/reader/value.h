// The entries of a project as plain values with their positions, in the order of the file.
#pragma once

#include "core/model/source.h"

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace kiai::reader {

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

/// Returns the kind for messages: `a text`, `a number`, …
const char* kind_name(Value::Kind kind) noexcept;

/// Returns a hash of the content, independent of the position.
std::uint64_t hash(const Value& value) noexcept;

} // namespace kiai::reader
