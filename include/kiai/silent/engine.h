// With KIAI_SILENT: what <kiai/engine.h> declares does nothing.
#pragma once

#include <kiai/engine.h>

namespace kiai::inline v0 {

/// Time passes, so that whoever waits for a frame does not wait for ever: with `render`, or as with a device.
class EngineShared {
  public:
    explicit EngineShared(int rate) noexcept : rate_(rate) {}
    void pass(std::size_t frames) noexcept { rendered_ += static_cast<Frames>(frames); }
    int rate() const noexcept { return rate_; }
    Frames now() const noexcept {
        if (rendered_ > 0) return rendered_;
        const Seconds passed = std::chrono::steady_clock::now() - begin_;
        return static_cast<Frames>(passed.count() * rate_);
    }

  private:
    int rate_;
    Frames rendered_ = 0;
    std::chrono::steady_clock::time_point begin_ = std::chrono::steady_clock::now();
};

inline Engine::Engine(Project, const EngineSettings& settings)
    : shared_(std::make_shared<EngineShared>(settings.sample_rate)) {}
inline Engine::~Engine() = default;
inline Engine::Engine(Engine&&) noexcept = default;
inline Engine& Engine::operator=(Engine&&) noexcept = default;
inline void Engine::press(Point, std::uint64_t) {}
inline void Engine::release(std::uint64_t) {}
inline void Engine::key_down(std::string_view) {}
inline void Engine::key_up(std::string_view) {}
inline void Engine::click(Point, std::uint64_t) {}
inline void Engine::key_tap(std::string_view) {}
inline void Engine::pointer(Point, std::uint64_t) {}
inline void Engine::pointer_gone(std::uint64_t) {}
inline void Engine::contact(ContactName, ContactName, Contact) {}
inline void Engine::contact_end(std::uint64_t) {}
inline void Engine::body(std::uint64_t, ContactName, Point, float, std::optional<Seconds>) {}
inline void Engine::body_box(std::uint64_t, ContactName, Point, Point, std::optional<Seconds>) {}
inline void Engine::body_gone(std::uint64_t) {}
inline void Engine::notice(NoticeName, std::span<const NamedValue>) {}
inline void Engine::playhead(MotionName, float, int) {}
inline void Engine::playhead(MotionName, Seconds, int) {}
inline void Engine::playhead_gone(MotionName, int) {}
inline void Engine::set_dial(DialName, float) {}
inline void Engine::enter_scope(ScopeName) {}
inline void Engine::leave_scope(ScopeName) {}
inline void Engine::pause_scope(ScopeName) {}
inline void Engine::resume_scope(ScopeName) {}
inline void Engine::move_zone(ZoneName, Point, float) {}
inline void Engine::remove_zone(ZoneName) {}
inline void Engine::input_lost() {}
inline Play Engine::play(SoundName, PlayOptions, ScopeName) {
    return {};
}
inline Play Engine::play(SoundName, const Play&, PlayOptions, ScopeName) {
    return {};
}
inline Play Engine::play_of(std::uint64_t) const {
    return {};
}
inline void Engine::stop(Target) {}
inline void Engine::stop(Target, Seconds) {}
inline void Engine::toggle(SoundName) {}
inline void Engine::pause(Target) {}
inline void Engine::resume(Target) {}
inline void Engine::restart(Target) {}
inline Play Engine::crossfade(Target, SoundName, Seconds, PlayOptions, ScopeName) {
    return {};
}
inline Play Engine::crossfade(const Play&, SoundName, Seconds, PlayOptions, ScopeName) {
    return {};
}
inline void Engine::run(SequenceName) {}
inline void Engine::set_bus_gain(BusName, Decibels, Seconds) {}
inline void Engine::mute_bus(BusName, bool) {}
inline BusLevel Engine::bus_level(BusName) const {
    return {};
}
inline Decibels Engine::bus_gain(BusName) const {
    return 0;
}
inline bool Engine::bus_muted(BusName) const {
    return false;
}
inline std::optional<float> Engine::dial(DialName) const {
    return std::nullopt;
}
inline ScopeState Engine::scope(ScopeName) const {
    return ScopeState::off;
}
inline std::optional<ZonePlace> Engine::zone(ZoneName) const {
    return std::nullopt;
}
inline std::vector<WaitingTimer> Engine::timers() const {
    return {};
}
inline std::vector<PlayingNow> Engine::plays() const {
    return {};
}
inline Load Engine::load() const {
    return {};
}
inline bool Engine::set_insert(BusName, std::shared_ptr<Insert>) {
    return true;
}
inline void Engine::set_mix_sink(std::function<void(std::span<const float>)>, Seconds) {}
inline void Engine::set_project(Project) {}
inline void Engine::wind_down(Seconds) {}
inline bool Engine::report(const Report&, std::optional<Frames>) {
    return true;
}
inline void Engine::render(std::span<float> out) noexcept {
    for (float& sample : out) sample = 0;
    shared_->pass(out.size() / 2);
}
inline void Engine::begin_block(std::chrono::steady_clock::time_point, Frames) noexcept {}
inline Frames Engine::now() const noexcept {
    return shared_->now();
}
inline Frames Engine::latency() const noexcept {
    return 0;
}
inline int Engine::sounding() const noexcept {
    return 0;
}
inline int Engine::looping() const noexcept {
    return 0;
}
inline int Engine::waiting() const noexcept {
    return 0;
}
inline int Engine::sample_rate() const noexcept {
    return shared_->rate();
}
inline std::uint64_t Engine::seed() const noexcept {
    return 0;
}
inline Project Engine::project() const {
    return {};
}
inline void Engine::start_recording() {}
inline Trace Engine::stop_recording(std::uint64_t*) {
    return {};
}
inline void Engine::poll() {}
inline void Engine::set_log(std::function<void(const Decision&)>) {}
inline std::shared_ptr<void> Engine::add_log(std::function<void(const Decision&)>) {
    return nullptr;
}
inline void Engine::set_findings(std::function<void(const Finding&)>) {}
inline std::vector<Decision> Engine::recent_decisions() const {
    return {};
}
inline std::size_t Engine::read_levels(std::span<PlayLevel>) {
    return 0;
}

} // namespace kiai::inline v0
