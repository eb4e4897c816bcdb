// Splits source code into words, without comments.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace kiai::workshop {

enum class Language { c, lua, python };

struct Token {
    enum class Kind { word, text, sign };
    Kind kind = Kind::sign;
    std::string_view text; ///< of a text without its quotes; `->` and `::` are one sign
    int line = 1, column = 1;
    bool is(char sign) const noexcept { return kind == Kind::sign && text.size() == 1 && text[0] == sign; }
    bool is(std::string_view word) const noexcept { return kind != Kind::text && text == word; }
};

/// Returns the tokens of a source, which must outlive them. Numbers are words. Never fails. [any]
std::vector<Token> tokens_of(std::string_view source, Language language);

} // namespace kiai::workshop
