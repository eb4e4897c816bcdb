// With KIAI_SILENT: what <kiai/keys.h> declares does nothing.
#pragma once

#include <kiai/keys.h>

namespace kiai::inline v0 {

inline const std::vector<Key>& project_keys() {
    static const std::vector<Key> none;
    return none;
}
inline const char* section_heading(const std::string&) noexcept {
    return "";
}

} // namespace kiai::inline v0
