// With KIAI_SILENT: what <kiai/log.h> declares does nothing.
#pragma once

#include <kiai/log.h>

namespace kiai::inline v0 {

inline std::function<void(const Decision&)> text_log(std::ostream&, const TextLogSettings&) {
    return {};
}

} // namespace kiai::inline v0
