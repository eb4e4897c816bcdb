// With KIAI_SILENT: what <kiai/report.h> declares does nothing.
#pragma once

#include <kiai/report.h>

namespace kiai::inline v0 {

inline const char* to_string(ActionTarget) noexcept {
    return "";
}
inline const char* to_string(FadeCurve) noexcept {
    return "";
}
inline const char* to_string(ReportKind) noexcept {
    return "";
}

} // namespace kiai::inline v0
