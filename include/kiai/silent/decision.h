// With KIAI_SILENT: what <kiai/decision.h> declares does nothing.
#pragma once

#include <kiai/decision.h>

namespace kiai::inline v0 {

inline const char* to_string(Outcome) noexcept {
    return "";
}
inline const char* explain(Outcome) noexcept {
    return "";
}
inline const char* to_string(Verb) noexcept {
    return "";
}
inline const char* to_string(WhenFull) noexcept {
    return "";
}
inline const char* to_string(LimitReached::Kind) noexcept {
    return "";
}
inline const char* to_string(EndReason) noexcept {
    return "";
}
inline const char* to_string(PlayState) noexcept {
    return "";
}
inline std::string to_string(const ActionTaken&) {
    return {};
}
inline std::string to_string(const LimitReached&) {
    return {};
}
inline std::string describe(const Decision&) {
    return {};
}
inline std::string describe_outcome(const Decision&) {
    return {};
}

} // namespace kiai::inline v0
