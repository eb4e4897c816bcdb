// The handle to one play.
#include "core/engine/shared.h"

#include <algorithm>
#include <cmath>

namespace kiai::inline v0 {

bool Play::playing() const noexcept {
    const auto engine = engine_.lock();
    return engine && engine->core.handles().playing({slot_, generation_});
}

EndReason Play::reason() const noexcept {
    const auto engine = engine_.lock();
    const std::weak_ptr<EngineShared> never;
    if (!engine)
        return engine_.owner_before(never) || never.owner_before(engine_) ? EndReason::engine_gone : EndReason::none;
    return engine->core.handles().reason({slot_, generation_});
}

std::uint32_t Play::number() const noexcept {
    const auto engine = engine_.lock();
    return engine ? engine->core.handles().number({slot_, generation_}) : 0;
}

std::string Play::sound() const {
    const auto engine = engine_.lock();
    return engine ? engine->names.text(engine->core.handles().name({slot_, generation_})) : std::string();
}

PlayState Play::state() const noexcept {
    const auto engine = engine_.lock();
    return engine ? engine->core.handles().state({slot_, generation_}) : PlayState::ended;
}

Seconds Play::elapsed() const noexcept {
    const auto engine = engine_.lock();
    if (!engine) return Seconds(0);
    const Frames frames = engine->core.handles().elapsed({slot_, generation_}, engine->core.now());
    return Seconds(static_cast<double>(frames) / engine->settings.rate);
}

void Play::on_ended(std::function<void(EndReason)> call) {
    if (const auto engine = engine_.lock()) engine->end_calls.await({slot_, generation_}, std::move(call));
}

Seconds Play::position() const noexcept {
    const auto engine = engine_.lock();
    if (!engine) return Seconds(0);
    mixer::Handles& handles = engine->core.handles();
    handles.want_places();
    return handles.has_place({slot_, generation_}) ? Seconds(handles.place({slot_, generation_})) : elapsed();
}

int Play::loops_left() const noexcept {
    const auto engine = engine_.lock();
    if (!engine) return 0;
    engine->core.handles().want_places();
    return engine->core.handles().turns_left({slot_, generation_});
}

void Play::pause() noexcept {
    tell(ReportKind::play_pause);
}

void Play::resume() noexcept {
    tell(ReportKind::play_resume);
}

void Play::tell(ReportKind kind) noexcept {
    if (const auto engine = engine_.lock()) engine->intake.tell({slot_, generation_}, {.kind = kind});
}

void Play::seek(Seconds place) noexcept {
    if (const auto engine = engine_.lock())
        engine->intake.tell({slot_, generation_}, {.kind = ReportKind::play_seek, .value = place.count()});
}

void Play::stop() noexcept {
    end(Seconds(-1));
}

void Play::stop(Seconds fade) noexcept {
    end(std::max(fade, Seconds(0)));
}

void Play::end(Seconds fade) noexcept {
    if (const auto engine = engine_.lock())
        engine->intake.tell({slot_, generation_}, {.kind = ReportKind::play_stop, .over = fade});
}

void Play::move(ReportKind kind, float to, Seconds over) noexcept {
    if (const auto engine = engine_.lock())
        engine->intake.tell({slot_, generation_}, {.kind = kind, .value = to, .over = over});
}

void Play::set_gain(Decibels gain, Seconds over) noexcept {
    move(ReportKind::play_gain, gain, over);
}

void Play::set_pitch(Semitones pitch, Seconds over) noexcept {
    move(ReportKind::play_pitch, pitch, over);
}

void Play::set_pan(Pan pan, Seconds over) noexcept {
    move(ReportKind::play_pan, pan, over);
}

void Play::set(ValueName value, float to) {
    if (const auto engine = engine_.lock())
        engine->intake.tell({slot_, generation_}, {.kind = ReportKind::play_set, .value = to, .name = value});
}

} // namespace kiai::inline v0
