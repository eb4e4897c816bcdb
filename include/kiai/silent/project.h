// With KIAI_SILENT: what <kiai/project.h> declares does nothing.
#pragma once

#include <kiai/project.h>

namespace kiai::inline v0 {

inline bool NameList::has(std::string_view) const noexcept {
    return false;
}
inline Project::Project() {}
inline Project::Project(std::shared_ptr<const model::Project>) {}
inline const std::string& Project::name() const noexcept {
    static const std::string none;
    return none;
}
inline const std::string& Project::fingerprint() const noexcept {
    return name();
}
inline NameList Project::sounds() const {
    return {};
}
inline NameList Project::clips() const {
    return {};
}
inline NameList Project::buses() const {
    return {};
}
inline NameList Project::dials() const {
    return {};
}
inline NameList Project::scopes() const {
    return {};
}
inline NameList Project::zones() const {
    return {};
}
inline NameList Project::motions() const {
    return {};
}
inline NameList Project::sequences() const {
    return {};
}
inline std::size_t Project::memory() const noexcept {
    return 0;
}
inline std::size_t Project::memory(std::string_view) const {
    return 0;
}

} // namespace kiai::inline v0
