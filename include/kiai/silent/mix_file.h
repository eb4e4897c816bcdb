// With KIAI_SILENT: what <kiai/mix_file.h> declares does nothing.
#pragma once

#include <kiai/mix_file.h>

namespace kiai::inline v0 {

inline MixFile::MixFile(const std::filesystem::path&, int) {}
inline const std::string& MixFile::error() const noexcept {
    static const std::string none;
    return none;
}
inline void MixFile::operator()(std::span<const float>) {}
inline void MixFile::close() {}

} // namespace kiai::inline v0
