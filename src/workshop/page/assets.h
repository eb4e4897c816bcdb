// The files of the page, which are part of the library.
#pragma once

#include <array>
#include <string_view>

namespace kiai::workshop {

struct Asset {
    std::string_view name; ///< in the address; empty: the page itself
    const char* type;
    std::string_view text;
};

/// Made from `web/` when the library is built.
extern const std::array<Asset, 4> assets;

} // namespace kiai::workshop
