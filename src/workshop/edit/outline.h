// Finds the spans in the text of a kiai.toml that an edit needs, which the parser does not keep. The parser finds what
// the text means.
#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace kiai::workshop {

/// The bytes [from, to) of the text.
struct Span {
    std::size_t from = 0;
    std::size_t to = 0;
};

/// The path to a value: keys of tables, and indices of list items from 0.
using Place = std::vector<std::variant<std::string, std::size_t>>;

/// Returns true if `place` is `whole` or inside it.
bool begins_with(const Place& place, const Place& whole);

struct KeySpan {
    std::string key;
    Span at; ///< with its quotes
};

struct Assignment;

struct ValueSpan {
    enum class Kind { plain, list, table } kind = Kind::plain;
    Span at;
    std::vector<ValueSpan> items;    ///< list
    std::vector<Assignment> members; ///< inline table
};

struct Assignment {
    std::vector<KeySpan> keys; ///< several where they are dotted
    ValueSpan value;
    Span at() const { return {keys.front().at.from, value.at.to}; }
};

/// A heading and the lines below it; the first section of a document has none.
struct Section {
    Place place;                     ///< of its table
    std::vector<KeySpan> keys;       ///< of the heading
    std::vector<std::size_t> depths; ///< for each key: how many steps of `place` lead through it
    Span heading;                    ///< `[…]`
    std::vector<Assignment> assignments;
};

/// `text` must be valid TOML.
std::vector<Section> outline(std::string_view text);

} // namespace kiai::workshop
