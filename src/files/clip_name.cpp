#include <kiai/add.h>

#include <glib.h>

#include <algorithm>
#include <cctype>
#include <memory>

namespace kiai::inline v0 {

std::string clip_name(const std::filesystem::path& file) {
    const std::string stem = file.stem().string();
    std::string plain = stem;
    if (g_utf8_validate(stem.c_str(), static_cast<gssize>(stem.size()), nullptr)) {
        // Letters with marks to those without; what has no such letter becomes a question mark.
        const std::unique_ptr<char, decltype(&g_free)> ascii(g_str_to_ascii(stem.c_str(), "C"), &g_free);
        plain = ascii.get();
    }
    std::string name;
    for (const char c : plain) {
        if (std::isalnum(static_cast<unsigned char>(c)) && static_cast<unsigned char>(c) < 0x80)
            name += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        else if (!name.empty() && name.back() != '-')
            name += '-';
    }
    while (name.ends_with('-')) name.pop_back();
    // oak-01: oak-1
    std::size_t number = name.size();
    while (number > 0 && std::isdigit(static_cast<unsigned char>(name[number - 1]))) --number;
    if (number == name.size() || (number > 0 && name[number - 1] != '-')) return name;
    while (number + 1 < name.size() && name[number] == '0') name.erase(number, 1);
    return name;
}

} // namespace kiai::inline v0
