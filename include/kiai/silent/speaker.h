// With KIAI_SILENT: what <kiai/speaker.h> declares does nothing.
#pragma once

#include <kiai/speaker.h>

namespace kiai::inline v0 {

inline std::vector<OutputDevice> output_devices() {
    return {};
}
inline Speaker::Speaker(Engine&, const SpeakerSettings&) {}
inline Speaker::~Speaker() = default;
inline bool Speaker::wait_until_open(Seconds) {
    return false;
}
inline bool Speaker::playing() const noexcept {
    return false;
}
inline std::string Speaker::status() const {
    return {};
}
inline Seconds Speaker::latency() const {
    return Seconds(0);
}
inline std::uint64_t Speaker::late_blocks() const noexcept {
    return 0;
}

} // namespace kiai::inline v0
