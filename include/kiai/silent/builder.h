// With KIAI_SILENT: what <kiai/builder.h> declares does nothing.
#pragma once

#include <kiai/builder.h>

namespace kiai::inline v0 {

struct ProjectBuilder::Data {};
inline Settings::Settings(std::initializer_list<NamedSetting>) {}
inline Setting::Setting(const char*) : kind(Kind::text) {}
inline Setting::Setting(std::string) : kind(Kind::text) {}
inline Setting::Setting(bool) : kind(Kind::truth) {}
inline Setting::Setting(double) : kind(Kind::number) {}
inline Setting::Setting(std::initializer_list<Setting>) : kind(Kind::list) {}
inline Setting::Setting(std::vector<Setting>) : kind(Kind::list) {}
inline Setting::Setting(Settings) : kind(Kind::table) {}
inline ProjectBuilder::ProjectBuilder() {}
inline ProjectBuilder::~ProjectBuilder() = default;
inline ProjectBuilder::ProjectBuilder(ProjectBuilder&&) noexcept = default;
inline ProjectBuilder& ProjectBuilder::operator=(ProjectBuilder&&) noexcept = default;
inline ProjectBuilder& ProjectBuilder::clip(std::string_view, Samples) {
    return *this;
}
inline ProjectBuilder& ProjectBuilder::set(std::string_view, const Setting&) {
    return *this;
}
inline ProjectBuilder& ProjectBuilder::add(std::string_view, Settings) {
    return *this;
}
inline LoadResult ProjectBuilder::build() const {
    return {};
}

} // namespace kiai::inline v0
