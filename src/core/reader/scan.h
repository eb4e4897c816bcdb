// Reads short texts from left to right. The result does not depend on the locale, and the time is linear in the text.
#pragma once

#include "core/model/number_text.h"

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>

namespace kiai::reader {

inline bool is_digit(char c) noexcept {
    return c >= '0' && c <= '9';
}
inline bool is_letter(char c) noexcept {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
}
inline bool is_blank(char c) noexcept {
    return c == ' ' || c == '\t' || c == '\r' || c == '\n' || c == '\v' || c == '\f';
}
/// Returns true for the characters of entry names.
inline bool is_name(char c) noexcept {
    return (c >= 'a' && c <= 'z') || is_digit(c) || c == '_' || c == '-';
}

class Scan {
  public:
    explicit Scan(std::string_view text) : text_(text) {}

    bool done() const noexcept { return at_ >= text_.size(); }
    std::size_t at() const noexcept { return at_; }
    char peek() const noexcept { return done() ? '\0' : text_[at_]; }
    void skip() noexcept { ++at_; }
    /// Skips blanks; returns how many.
    std::size_t blanks() noexcept {
        const std::size_t from = at_;
        while (!done() && is_blank(peek())) ++at_;
        return at_ - from;
    }
    /// Skips the text if it comes next.
    bool take(std::string_view expected) noexcept {
        if (text_.substr(at_, expected.size()) != expected) return false;
        at_ += expected.size();
        return true;
    }
    /// Takes all characters for which `test` is true; may be empty.
    template<class Test>
    std::string_view while_(const Test& test) noexcept {
        const std::size_t from = at_;
        while (!done() && test(peek())) ++at_;
        return text_.substr(from, at_ - from);
    }
    /// Reads digits, perhaps with a point and more digits, without an exponent. With `sign`, one of + - may come first.
    std::optional<double> number(bool sign = false) {
        const std::size_t from = at_;
        if (sign && (peek() == '+' || peek() == '-')) ++at_;
        const bool whole = !while_(is_digit).empty();
        if (whole && peek() == '.' && at_ + 1 < text_.size() && is_digit(text_[at_ + 1])) {
            ++at_;
            while_(is_digit);
        }
        const std::optional<double> value = whole ? model::read_decimal(text_.substr(from, at_ - from)) : std::nullopt;
        if (!value) at_ = from;
        return value;
    }

  private:
    std::string_view text_;
    std::size_t at_ = 0;
};

} // namespace kiai::reader
