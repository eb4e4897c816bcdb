#include "core/reader/scan.h"
#include "workshop/edit/unicode.h"

#include <kiai/workshop/add.h>

#include <algorithm>

namespace kiai::inline v0 {

using reader::is_digit;

std::string clip_name(const std::filesystem::path& file) {
    const std::string stem = file.stem().string();
    std::string name;
    for (const char c :
         workshop::plain_letters(stem)) { // by hand: what the C library takes for a letter depends on the locale
        if (reader::is_digit(c) || (c >= 'a' && c <= 'z'))
            name += c;
        else if (c >= 'A' && c <= 'Z')
            name += static_cast<char>(c + ('a' - 'A'));
        else if (!name.empty() && name.back() != '-')
            name += '-';
    }
    while (name.ends_with('-')) name.pop_back();
    // oak-01: oak-1
    std::size_t number = name.size();
    while (number > 0 && reader::is_digit(name[number - 1])) --number;
    if (number == name.size() || (number > 0 && name[number - 1] != '-')) return name;
    while (number + 1 < name.size() && name[number] == '0') name.erase(number, 1);
    return name;
}

} // namespace kiai::inline v0
