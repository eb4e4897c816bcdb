// With KIAI_SILENT: what <kiai/open.h> declares does nothing.
#pragma once

#include <kiai/open.h>

namespace kiai::inline v0 {

inline Session::Session(Project project, Seconds close_within)
    : Engine(std::move(project)), speaker_(std::make_unique<Speaker>(*this)), close_within_(close_within) {}
inline Session::~Session() = default;
inline Session open(const std::filesystem::path&, const OpenSettings&) {
    return Session({});
}

} // namespace kiai::inline v0
