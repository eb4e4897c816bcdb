// A kiai.toml that is edited in place: comments, order and layout stay.
#pragma once

#include "core/reader/value.h"
#include "runtime/project/parse_toml.h"
#include "workshop/edit/outline.h"

#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace kiai::workshop {

/// Each edit is carried out twice, in the text and in the values that it stands for; at the end the new text is read
/// again and must give those values. So an edit does what was meant, or nothing.
class Document {
  public:
    /// `text` must be valid TOML.
    static std::variant<Document, runtime::SyntaxError> read(std::string text);

    /// As it is after the edits so far.
    const reader::Value& root() const noexcept { return intended_; }

    /// Puts a text where a value stands.
    void set_text(const Place& place, const std::string& text);
    /// Puts another value, written as TOML, where one stands.
    void set_value(const Place& place, const std::string& toml);
    /// Gives an entry another key, wherever it is spelt out.
    void rename(const Place& place, const std::string& key);
    /// Takes out an entry with all that belongs to it.
    void remove(const Place& place);
    /// A key, and its value as TOML.
    using NewEntry = std::pair<std::string, std::string>;
    /// Adds entries after the last one of a table, which is begun where there is none.
    void add(const Place& table, const std::vector<NewEntry>& entries);
    /// Adds sections after all others.
    void append(const std::string& sections);

    /// The new text; or the line that is in the way, from 1.
    std::variant<std::string, int> finish() const;
    /// Line of a byte of the text as it was, from 1.
    int line_of(std::size_t at) const;
    const std::string& text() const noexcept { return text_; }

    struct Edit {
        Span at;
        std::string text;
    };
    /// In the order of the text.
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

/// A text as TOML writes it, in quotes.
std::string toml_text(const std::string& text);

/// The value at a place; null where there is none.
reader::Value* value_at(reader::Value& root, const Place& place);

/// True where both mean the same, wherever they stand and in whatever order their keys come; an empty table or list is
/// as good as none.
bool same_meaning(const reader::Value& a, const reader::Value& b);

} // namespace kiai::workshop
