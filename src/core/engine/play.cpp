// The handle to one play.
#include "core/engine/shared.h"

#include <algorithm>
#include <cmath>

namespace kiai::inline v0 {

using mixer::Command;
using mixer::CommandKind;

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

void Play::pause() noexcept {
    tell(static_cast<int>(CommandKind::pause_play));
}

void Play::resume() noexcept {
    tell(static_cast<int>(CommandKind::resume_play));
}

void Play::tell(int kind) noexcept {
    const auto engine = engine_.lock();
    if (!engine) return;
    Command command;
    command.due = engine->intake.due();
    command.kind = static_cast<CommandKind>(kind);
    command.report = ReportKind::play;
    command.handle = slot_;
    command.generation = generation_;
    engine->intake.send(command);
}

void Play::stop() noexcept {
    end(Seconds(-1));
}

void Play::stop(Seconds fade) noexcept {
    end(std::max(fade, Seconds(0)));
}

void Play::end(Seconds fade) noexcept {
    const auto engine = engine_.lock();
    if (!engine) return;
    Command command = engine->intake.ending(CommandKind::stop_play, fade);
    command.handle = slot_;
    command.generation = generation_;
    engine->intake.send(command);
}

void Play::move(int kind, float PlayOptions::*what, float to, Seconds over) noexcept {
    const auto engine = engine_.lock();
    if (!engine) return;
    Command command;
    command.due = engine->intake.due();
    command.kind = static_cast<CommandKind>(kind);
    command.report = ReportKind::play;
    command.handle = slot_;
    command.generation = generation_;
    command.options.*what = to;
    engine::check_options(command);
    command.over = static_cast<float>(over.count());
    engine::check(command, command.over, 0, 3600);
    engine->intake.send(command);
}

void Play::set_gain(Decibels gain, Seconds over) noexcept {
    move(static_cast<int>(CommandKind::gain_play), &PlayOptions::gain, gain, over);
}

void Play::set_pitch(Semitones pitch, Seconds over) noexcept {
    move(static_cast<int>(CommandKind::pitch_play), &PlayOptions::pitch, pitch, over);
}

void Play::set_pan(Pan pan, Seconds over) noexcept {
    move(static_cast<int>(CommandKind::pan_play), &PlayOptions::pan, pan, over);
}

void Play::set(std::string_view value, float to) {
    const auto engine = engine_.lock();
    if (!engine) return;
    Command command;
    command.due = engine->intake.due();
    command.kind = CommandKind::value_play;
    command.report = ReportKind::play;
    command.name = engine->names.add_reported(value);
    if (command.name == model::no_name) return engine->core.ring().lose_name();
    command.handle = slot_;
    command.generation = generation_;
    command.value = to;
    command.bad = !std::isfinite(to);
    engine->intake.send(command);
}

} // namespace kiai::inline v0
