// With KIAI_SILENT: what <kiai/finding.h> declares does nothing.
#pragma once

#include <kiai/finding.h>

namespace kiai::inline v0 {

inline const std::vector<FindingCode>& all_finding_codes() {
    static const std::vector<FindingCode> none;
    return none;
}
inline const char* to_string(FindingCode) noexcept {
    return "";
}
inline Severity usual_severity(FindingCode) noexcept {
    return Severity::note;
}
inline bool found_running(FindingCode) noexcept {
    return false;
}
inline const char* explain(FindingCode) noexcept {
    return "";
}
inline const char* to_string(Severity) noexcept {
    return "";
}
inline std::string to_string(const Finding&) {
    return {};
}
inline std::string to_string(const Finding&, const std::string&) {
    return {};
}
inline std::ostream& operator<<(std::ostream& out, const Finding&) {
    return out;
}
inline int count(const std::vector<Finding>&, Severity) noexcept {
    return 0;
}

} // namespace kiai::inline v0
