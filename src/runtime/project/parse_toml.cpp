#include "runtime/project/parse_toml.h"
#include "core/model/sort_records.h"

#include <toml++/toml.h>

#include <algorithm>
#include <optional>
#include <string>

namespace kiai::runtime {
namespace {

model::Source source_of(const toml::source_region& region) {
    return {static_cast<int>(region.begin.line), static_cast<int>(region.begin.column)};
}

reader::Value convert(const toml::node& node) {
    reader::Value value;
    value.source = source_of(node.source());
    if (const auto* table = node.as_table()) {
        value.kind = reader::Value::Kind::table;
        for (const auto& [key, member] : *table)
            value.members.push_back({std::string(key.str()), source_of(key.source()), convert(member)});
        // The library sorts keys, but Kiai needs the order of the file.
        model::sort_records(value.members, [](const reader::Member& a, const reader::Member& b) {
            return a.source.line != b.source.line ? a.source.line < b.source.line : a.source.column < b.source.column;
        });
    } else if (const auto* array = node.as_array()) {
        value.kind = reader::Value::Kind::list;
        for (const toml::node& item : *array) value.items.push_back(convert(item));
    } else if (const auto* text = node.as_string()) {
        value.kind = reader::Value::Kind::text;
        value.text = text->get();
    } else if (const auto* truth = node.as_boolean()) {
        value.kind = reader::Value::Kind::truth;
        value.truth = truth->get();
    } else if (node.is_number()) {
        value.kind = reader::Value::Kind::number;
        value.number = node.value<double>().value_or(0);
    } else {
        value.kind = reader::Value::Kind::date;
    }
    return value;
}

constexpr int most_parts = 32;  ///< of a dotted key or heading
constexpr int most_nested = 32; ///< lists and tables within one another

/// Finds nesting that is too deep for a recursive parser, in one pass from left to right.
std::optional<SyntaxError> too_deep(std::string_view text) {
    int line = 1, parts = 0, depth = 0;
    std::size_t line_begin = 0;
    const auto error = [&](std::size_t at, const char* message, SyntaxError::Kind kind) {
        return SyntaxError{{line, static_cast<int>(at - line_begin) + 1}, message, kind};
    };
    for (std::size_t at = 0; at < text.size(); ++at) {
        const char c = text[at];
        if (c == '\n') {
            ++line;
            line_begin = at + 1;
            parts = 0;
        } else if (c == '#') {
            at = std::min(text.find('\n', at), text.size()) - 1;
        } else if (c == '"' || c == '\'') {
            const bool many = text.substr(at, 3) == std::string(3, c);
            const std::string_view end = text.substr(at, many ? 3 : 1);
            for (at += end.size(); at < text.size() && text.substr(at, end.size()) != end; ++at) {
                if (text[at] == '\n' && !many) break;
                if (text[at] == '\n') ++line, line_begin = at + 1;
                if (text[at] == '\\' && c == '"') ++at;
            }
            at += many ? 2 : 0;
            if (at < text.size() && text[at] == '\n') --at;
        } else if (c == '.') {
            if (++parts >= most_parts)
                return error(at, "the key has too many parts", SyntaxError::Kind::too_many_parts);
        } else if (c == '[' || c == '{') {
            parts = 0;
            if (++depth > most_nested)
                return error(at, "lists and tables are nested too deep", SyntaxError::Kind::too_deep);
        } else if (c == ']' || c == '}') {
            depth = std::max(0, depth - 1);
        } else if (c == '=' || c == ',') {
            parts = 0;
        }
    }
    return std::nullopt;
}

} // namespace

std::variant<reader::Value, SyntaxError> parse_toml(std::string_view text) {
    if (text.starts_with("\xef\xbb\xbf")) text.remove_prefix(3);
    if (auto deep = too_deep(text)) return *std::move(deep);
    try {
        return convert(toml::parse(text));
    } catch (const toml::parse_error& error) { // the library's only way of saying it, as Debian builds it
        return SyntaxError{source_of(error.source()), std::string(error.description()), SyntaxError::Kind::syntax};
    }
}

} // namespace kiai::runtime
