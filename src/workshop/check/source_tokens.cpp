#include "workshop/check/source_tokens.h"

namespace kiai::workshop {
namespace {

bool is_word(char c) noexcept {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_' ||
           static_cast<unsigned char>(c) >= 0x80;
}

class Lexer {
  public:
    Lexer(std::string_view source, Language language) : source_(source), language_(language) {}

    std::vector<Token> run() {
        while (at_ < source_.size()) {
            const char c = source_[at_];
            if (c == '\n' || c == ' ' || c == '\t' || c == '\r')
                step();
            else if (!comment() && !text())
                is_word(c) ? word() : sign();
        }
        return std::move(tokens_);
    }

  private:
    bool ahead(std::string_view text) const noexcept { return source_.substr(at_, text.size()) == text; }

    void step(std::size_t count = 1) {
        for (; count > 0 && at_ < source_.size(); --count, ++at_) {
            if (source_[at_] != '\n') continue;
            ++line_;
            line_begin_ = at_ + 1;
        }
    }

    /// Skips to the end of `close`, or of the source.
    void skip_past(std::string_view close) {
        const std::size_t end = source_.find(close, at_);
        step((end == std::string_view::npos ? source_.size() : end + close.size()) - at_);
    }

    void skip_line() {
        const std::size_t end = source_.find('\n', at_);
        step((end == std::string_view::npos ? source_.size() : end) - at_);
    }

    bool comment() {
        if (language_ == Language::c && ahead("/*")) {
            step(2);
            skip_past("*/");
        } else if (language_ == Language::lua && ahead("--[[")) {
            skip_past("]]");
        } else if ((language_ == Language::c && ahead("//")) || (language_ == Language::lua && ahead("--")) ||
                   (language_ == Language::python && ahead("#"))) {
            skip_line();
        } else {
            return false;
        }
        return true;
    }

    void add(Token::Kind kind, std::size_t from, std::size_t size) {
        tokens_.push_back({kind, source_.substr(from, size), line_, static_cast<int>(from - line_begin_) + 1});
    }

    /// Takes a text between marks, in which a backslash protects the next character unless the text is `raw`.
    void take_text(std::size_t open, std::string_view close, bool raw) {
        std::size_t end = at_ + open;
        while (end < source_.size() && source_.substr(end, close.size()) != close)
            end += !raw && source_[end] == '\\' ? 2 : 1;
        end = std::min(end, source_.size());
        add(Token::Kind::text, at_ + open, end - at_ - open);
        tokens_.back().column -= static_cast<int>(open); // that of its first mark
        step(end - at_ + close.size());
    }

    bool text() {
        const char c = source_[at_];
        if (language_ == Language::c && ahead("R\"")) {
            const std::size_t paren = source_.find('(', at_);
            if (paren == std::string_view::npos || paren - at_ > 18) return false;
            const std::string close = ")" + std::string(source_.substr(at_ + 2, paren - at_ - 2)) + "\"";
            take_text(paren + 1 - at_, close, true);
        } else if (language_ == Language::python && (ahead("\"\"\"") || ahead("'''"))) {
            take_text(3, c == '"' ? "\"\"\"" : "'''", false);
        } else if (language_ == Language::lua && ahead("[[")) {
            take_text(2, "]]", true);
        } else if (c == '"') {
            take_text(1, "\"", false);
        } else if (c == '\'' && language_ == Language::c) { // a character, or the separator of a number
            if (at_ > 0 && is_word(source_[at_ - 1])) return false;
            take_text(1, "'", false);
            tokens_.back().kind = Token::Kind::word;
        } else if (c == '\'') {
            take_text(1, "'", false);
        } else {
            return false;
        }
        return true;
    }

    void word() {
        std::size_t end = at_;
        while (end < source_.size() && is_word(source_[end])) ++end;
        add(Token::Kind::word, at_, end - at_);
        at_ = end;
    }

    void sign() {
        const std::size_t size = ahead("->") || ahead("::") ? 2 : 1;
        add(Token::Kind::sign, at_, size);
        step(size);
    }

    std::string_view source_;
    Language language_;
    std::size_t at_ = 0, line_begin_ = 0;
    int line_ = 1;
    std::vector<Token> tokens_;
};

} // namespace

std::vector<Token> tokens_of(std::string_view source, Language language) {
    return Lexer(source, language).run();
}

} // namespace kiai::workshop
