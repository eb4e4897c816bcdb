// With KIAI_SILENT: what <kiai/reload.h> declares does nothing.
#pragma once

#include <kiai/reload.h>

namespace kiai::inline v0 {

class Reload::Watcher {};
inline Reload::Reload(const Engine&, std::filesystem::path, LoadOptions, ReloadReport) {}
inline Reload::~Reload() = default;

} // namespace kiai::inline v0
