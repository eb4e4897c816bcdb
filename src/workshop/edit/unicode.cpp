#include "workshop/edit/unicode.h"

#include <utf8proc.h>

#include <array>
#include <cstdlib>
#include <memory>
#include <utility>

namespace kiai::workshop {
namespace {

const utf8proc_uint8_t* bytes_of(std::string_view text) {
    return reinterpret_cast<const utf8proc_uint8_t*>(text.data());
}

/// Latin letters without a Unicode decomposition.
constexpr std::array<std::pair<std::string_view, std::string_view>, 9> latin{
    {{"æ", "ae"}, {"œ", "oe"}, {"ø", "o"}, {"ł", "l"}, {"đ", "d"}, {"ð", "d"}, {"þ", "th"}, {"ħ", "h"}, {"ı", "i"}}};

} // namespace

bool is_utf8(std::string_view text) noexcept {
    while (!text.empty()) {
        utf8proc_int32_t point = 0;
        const auto length = utf8proc_iterate(bytes_of(text), static_cast<utf8proc_ssize_t>(text.size()), &point);
        if (length <= 0) return false;
        text.remove_prefix(static_cast<std::size_t>(length));
    }
    return true;
}

std::string plain_letters(const std::string& text) {
    utf8proc_uint8_t* made = nullptr;
    const auto options = static_cast<utf8proc_option_t>(UTF8PROC_STABLE | UTF8PROC_COMPAT | UTF8PROC_DECOMPOSE |
                                                        UTF8PROC_STRIPMARK | UTF8PROC_CASEFOLD);
    const auto length = utf8proc_map(bytes_of(text), static_cast<utf8proc_ssize_t>(text.size()), &made, options);
    const std::unique_ptr<utf8proc_uint8_t, decltype(&std::free)> owner(made, &std::free);
    if (length < 0) return text;
    std::string plain(reinterpret_cast<const char*>(made), static_cast<std::size_t>(length));
    for (const auto& [letter, letters] : latin)
        for (std::size_t at = plain.find(letter); at != std::string::npos; at = plain.find(letter, at))
            plain.replace(at, letter.size(), letters);
    return plain;
}

} // namespace kiai::workshop
