// Reads SPDX licence expressions, as far as findings need them.
#pragma once

#include <string>
#include <string_view>

namespace kiai::workshop {

struct Licence {
    std::string unknown;         ///< the first identifier that SPDX does not have; empty: all are known
    std::string nearest;         ///< to the unknown one
    bool demands_author = false; ///< every choice that it gives demands that the author is named
};

/// Reads an expression such as `MIT`, `CC-BY-4.0 OR LicenseRef-mine`, `(MIT AND CC0-1.0)`.
Licence read_licence(std::string_view expression);

} // namespace kiai::workshop
