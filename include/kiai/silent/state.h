// With KIAI_SILENT: what <kiai/state.h> declares does nothing.
#pragma once

#include <kiai/state.h>

namespace kiai::inline v0 {

inline const char* to_string(ScopeState) noexcept {
    return "";
}

} // namespace kiai::inline v0
