// Edits a kiai.toml in place: comments, order and layout stay.
#pragma once

#include "core/reader/value.h"
#include "runtime/project/parse_toml.h"
#include "workshop/edit/outline.h"

#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace kiai::workshop {

/// Applies each edit twice, to the text and to the values that it stands for. At the end the new text is parsed and
/// must give those values, so an edit does what was meant or nothing.
class Document {
  public:
    /// `text` must be valid TOML.
    static std::variant<Document, runtime::SyntaxError> read(std::string text);

    /// Returns the values after the edits so far.
    const reader::Value& root() const noexcept { return intended_; }

    /// Replaces a value with a text.
    void set_text(const Place& place, const std::string& text);
    /// Replaces a value with another one, written as TOML.
    void set_value(const Place& place, const std::string& toml);
    /// Gives an entry another key, wherever it is spelt out.
    void rename(const Place& place, const std::string& key);
    /// Removes an entry with everything that belongs to it.
    void remove(const Place& place);
    /// A key, and its value as TOML.
    using NewEntry = std::pair<std::string, std::string>;
    /// Adds entries after the last one of a table, which is made if it is missing.
    void add(const Place& table, const std::vector<NewEntry>& entries);
    /// Adds an item after the last one of a list that has some.
    void add_item(const Place& list, const std::string& toml);
    /// Adds sections at the end.
    void append(const std::string& sections);

    /// Returns the new text, or the line that prevents the edit, from 1.
    std::variant<std::string, int> finish() const;
    /// Returns the line of a byte in the original text, from 1.
    int line_of(std::size_t at) const;
    const std::string& text() const noexcept { return text_; }

    struct Edit {
        Span at;
        std::string text;
    };
    /// Returns the edits in the order of the text.
    std::vector<Edit> edits() const;

  private:
    Document(std::string text, reader::Value root);

    void replace(Span at, std::string text) { edits_.push_back({at, std::move(text)}); }
    void give_up(std::size_t at);
    std::size_t line_begin(std::size_t at) const;
    std::size_t line_end(std::size_t at) const;
    Span whole_lines(Span at) const;
    bool alone_on_its_lines(Span item) const;
    void rename_in(const std::vector<Assignment>& assignments, const Place& base, const Place& place,
                   const std::string& key);
    void rename_in_value(const ValueSpan& value, const Place& at, const Place& place, const std::string& key);
    void rename_key(const KeySpan& at, const std::string& key);
    void remove_in(const std::vector<Assignment>& assignments, const Place& base, const Place& place,
                   bool inline_table);
    void remove_in_value(const ValueSpan& value, const Place& at, const Place& place);
    void remove_item(const std::vector<Span>& items, std::size_t which);
    const ValueSpan* find_in(const std::vector<Assignment>& assignments, const Place& base, const Place& place) const;
    const ValueSpan* find_value(const ValueSpan& value, const Place& at, const Place& place) const;
    const ValueSpan* find(const Place& place) const;
    void insert_line_after(std::size_t at, const std::string& line);
    void append_text(const std::string& lines);
    std::string line_break(std::size_t at) const; ///< as the line there has it

    std::string text_;
    reader::Value intended_;
    std::vector<Section> sections_;
    std::vector<Edit> edits_;
    std::optional<int> stuck_; ///< line of an edit that found no place
};

/// Returns a text as TOML in quotes.
std::string toml_text(const std::string& text);

/// Returns the value at a place, or null.
reader::Value* value_at(reader::Value& root, const Place& place);

/// Returns true if both mean the same, wherever they are and in whatever order their keys come. An empty table or list
/// equals none.
bool same_meaning(const reader::Value& a, const reader::Value& b);

} // namespace kiai::workshop
