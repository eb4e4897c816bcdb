// With KIAI_SILENT: what <kiai/play.h> declares does nothing.
#pragma once

#include <kiai/play.h>

namespace kiai::inline v0 {

inline bool Play::playing() const noexcept {
    return false;
}
inline EndReason Play::reason() const noexcept {
    return EndReason::engine_gone;
}
inline std::uint32_t Play::number() const noexcept {
    return 0;
}
inline std::string Play::sound() const {
    return {};
}
inline PlayState Play::state() const noexcept {
    return PlayState::ended;
}
inline Seconds Play::elapsed() const noexcept {
    return Seconds(0);
}
inline Seconds Play::position() const noexcept {
    return Seconds(0);
}
inline int Play::loops_left() const noexcept {
    return 0;
}
inline void Play::pause() noexcept {}
inline void Play::resume() noexcept {}
inline void Play::seek(Seconds) noexcept {}
/// Nothing will ever end, so that whoever waits for it does not wait for ever.
inline void Play::on_ended(std::function<void(EndReason)> call) {
    if (call) call(EndReason::engine_gone);
}
inline void Play::stop() noexcept {}
inline void Play::stop(Seconds) noexcept {}
inline void Play::set_gain(Decibels, Seconds) noexcept {}
inline void Play::set_pitch(Semitones, Seconds) noexcept {}
inline void Play::set_pan(Pan, Seconds) noexcept {}
inline void Play::set(ValueName, float) {}

} // namespace kiai::inline v0
