#include "core/rules/router.h"

#include "core/dsp/kernels.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <tuple>

namespace kiai::rules {

using mixer::Command;
using mixer::CommandKind;
using mixer::Plays;

namespace {
constexpr double most_counted = 1e7;   ///< plays before a recording
constexpr int allowed_at_once = 4096;  ///< consequences of one frame
constexpr int allowed_for_each = 64;   ///< on top of that, per report
constexpr std::size_t most_ahead = 16; ///< reports whose data is prefetched together
constexpr std::size_t next_ahead = 4;  ///< how far ahead a report itself is prefetched
} // namespace

Router::Router(const mixer::Plan& plan, model::NameTable& names, const mixer::CoreSettings& settings)
    : state_(plan, names, settings, *this, *this), winding_(state_), scope_life_(state_, *this),
      actions_(state_, *this, scope_life_, winding_), dispatch_(state_, actions_), keys_(state_, *this),
      snapshot_(state_, keys_), direct_(state_, actions_), swap_(state_, scope_life_, keys_, winding_) {}

Frames Router::next(const Plays& plays, Frames now) const noexcept {
    // The end of a play is served at the clock's next cell, so that it does not depend on the block size. The same
    // holds for what starts while the run winds down.
    const Frames cell = plays.awaited() || winding_.on() ? (now / dsp::cell + 1) * dsp::cell : Agenda::never;
    return std::min(cell, state_.agenda.next());
}

void Router::serve(std::span<const Command* const> commands, Plays& plays, Frames now) noexcept {
    state_.now = now;
    state_.plays = &plays;
    state_.allowance = allowed_at_once + allowed_for_each * static_cast<int>(commands.size());
    if (!state_.begun) begin();
    serve_time();
    for (std::size_t i = 0; i < commands.size(); ++i) {
        if (state_.bindings.many() && i % most_ahead == 0)
            ask_ahead(commands.subspan(i, std::min(most_ahead, commands.size() - i)));
        if (i + next_ahead < commands.size()) model::prefetch_object(*commands[i + next_ahead]);
        const bool begins = commands[i]->kind == CommandKind::snapshot; // a recording
        if (begins) state_.journal->begin_recording();
        state_.journal->serve(*commands[i]);
        if (begins)
            snapshot_.take();
        else
            serve_one(*commands[i]);
    }
}

/// Prefetches what several reports need, stage by stage: in each stage the misses of all of them overlap. A press does
/// not know its zone yet, so that is a guess.
void Router::ask_ahead(std::span<const Command* const> group) const noexcept {
    const auto presses = [&](auto call) {
        for (const Command* command : group)
            if (command->report == ReportKind::press) (state_.zones.*call)(command->point);
    };
    presses(&Zones::prefetch_cell);
    presses(&Zones::prefetch_zones);
    presses(&Zones::prefetch_front);
    std::array<model::NameId, most_ahead> names{};
    std::transform(group.begin(), group.end(), names.begin(), [&](const Command* command) {
        if (command->report == ReportKind::press) return state_.zones.front_name(command->point);
        model::NameId name = command->name, other = command->other;
        Bindings::order(command->report, name, other);
        return name;
    });
    const auto all = [&](auto call) {
        for (std::size_t i = 0; i < group.size(); ++i) (state_.bindings.*call)(group[i]->report, names[i]);
    };
    all(&Bindings::prefetch_place);
    all(&Bindings::prefetch_bound);
}

void Router::begin() noexcept {
    state_.begun = true;
    Event start;
    start.kind = ReportKind::start;
    start.name = state_.start;
    start.quiet = true;
    if (!state_.bindings.find(start.kind, start.name).empty()) happen(start);
    state_.timers.begin(-1, state_.now);
    state_.watches.look(-1, *state_.plays, 0);
    for (int s = 0; s < state_.scopes.count(); ++s)
        if (state_.project.scopes[static_cast<std::size_t>(s)].on) scope_life_.enter(s, 0);
}

void Router::serve_time() noexcept {
    if (state_.now % dsp::cell == 0) {
        for (const mixer::EndedPlay& play : state_.plays->ended()) {
            state_.sequences.ended(play, state_.now);
            if (!state_.plan.at(play.sound).awaited || !winding_.may_end(play.sound)) continue;
            Event ended;
            ended.kind = ReportKind::ended;
            ended.name = state_.sound_names[static_cast<std::size_t>(play.sound)];
            state_.allowance += allowed_for_each;
            happen(ended);
        }
        state_.plays->forget_ended();
        if (winding_.on()) winding_.keep_on();
    }
    while (state_.agenda.next() <= state_.now) {
        const Agenda::Entry entry = state_.agenda.take();
        if (entry.kind == Agenda::Entry::Kind::branch) {
            state_.sequences.go_on(entry.number, state_.now);
            continue;
        }
        Event timer;
        timer.kind = state_.project.bindings[static_cast<std::size_t>(entry.number)].trigger;
        timer.name = state_.binding_names[static_cast<std::size_t>(entry.number)];
        timer.binding = entry.number;
        state_.timers.go_on(entry.number);
        state_.allowance += allowed_for_each;
        happen(timer);
    }
}

void Router::serve_one(const Command& command) noexcept {
    Event event;
    event.kind = command.report;
    event.name = command.name;
    event.other = command.other;
    event.options = command.options;
    event.values = command.values;
    if (command.late) state_.say(Outcome::late, event);
    if (command.held) state_.say(Outcome::out_of_range, event);
    if (command.bad) {
        if (command.kind == CommandKind::report)
            state_.plays->forget({command.handle, command.generation}, EndReason::bad_number);
        return state_.say(Outcome::bad_number, event);
    }
    if (command.kind == CommandKind::report) return serve_report(command, event);
    serve_handle(command, state_.begin_record(event));
}

void Router::serve_handle(const Command& command, decisions::Record cause) noexcept {
    const mixer::Handles::Handle handle{command.handle, command.generation};
    cause.on = command.name;
    cause.value = static_cast<float>(command.report == ReportKind::play_stop ? command.fade : command.value);
    const double seconds = command.over;
    Plays& plays = *state_.plays;
    switch (command.report) {
    case ReportKind::play_stop:
        return plays.stop_play(handle, command.fade, cause, state_.now);
    case ReportKind::play_pause:
    case ReportKind::play_resume:
        return plays.pause_play(handle, command.report == ReportKind::play_pause, cause, state_.now);
    case ReportKind::play_gain:
        return plays.set_gain(handle, command.value, seconds, cause, state_.now);
    case ReportKind::play_pitch:
        return plays.set_pitch(handle, command.value, seconds, cause, state_.now);
    case ReportKind::play_pan:
        return plays.set_pan(handle, command.value, seconds, cause, state_.now);
    case ReportKind::play_seek:
        return plays.seek(handle, command.value, cause, state_.now);
    case ReportKind::play_set:
        return plays.set_own(handle, command.name, command.value, cause, state_.now);
    default:
        return;
    }
}

void Router::serve_report(const Command& command, const Event& event) noexcept {
    switch (command.report) {
    case ReportKind::press:
        return state_.pointers.press(command.pointer, command.point, state_.now, state_.plan.rate());
    case ReportKind::release:
        return state_.pointers.release(command.pointer);
    case ReportKind::pointer:
        return state_.pointers.move(command.pointer, command.point);
    case ReportKind::pointer_gone:
        return state_.pointers.gone(command.pointer);
    case ReportKind::key_down:
        return keys_.down(event);
    case ReportKind::key_up:
        return keys_.up(command.name, false);
    case ReportKind::contact:
        return state_.touches.touch(event, command.pair);
    case ReportKind::contact_end:
        return state_.touches.contact_end(command.pair);
    case ReportKind::body:
        return state_.bodies.put(event, command.pair, command.point, command.value, command.over, command.moment);
    case ReportKind::body_gone:
        return state_.bodies.gone(command.pair);
    case ReportKind::playhead:
    case ReportKind::playhead_gone:
        return serve_playhead(command, event);
    case ReportKind::notice:
        happen(event);
        return;
    case ReportKind::dial:
        return turn(command, event);
    case ReportKind::scope_enter:
    case ReportKind::scope_leave:
    case ReportKind::scope_pause:
    case ReportKind::scope_resume:
        return scope_life_.serve(command, event);
    case ReportKind::zone:
    case ReportKind::zone_gone:
        return serve_zone(command, event);
    case ReportKind::input_lost:
        return lose_input();
    case ReportKind::stop:
    case ReportKind::pause:
    case ReportKind::resume:
    case ReportKind::restart:
        return direct_.serve_target(command, event);
    case ReportKind::bus_gain:
    case ReportKind::bus_mute:
        return direct_.serve_bus(command, event);
    case ReportKind::crossfade:
        return direct_.serve_crossfade(command, event);
    case ReportKind::wind_down:
        return winding_.begin(command.fade, state_.begin_record(event).cause);
    case ReportKind::counted:
        return serve_counted(command);
    default:
        return direct_.serve_play(command, event);
    }
}

/// Sets how often something happened before a recording started.
void Router::serve_counted(const Command& command) noexcept {
    const auto times = static_cast<std::uint64_t>(std::clamp(command.value, 0.0, most_counted));
    if (command.pair != 0)
        return state_.rules.count_from(static_cast<std::size_t>(command.pair - 1), times, command.in_seconds);
    const int sound = state_.plan.sound_of(command.name);
    if (sound < 0) return;
    std::array<std::uint64_t, std::tuple_size_v<mixer::NamedNumbers>> heard{};
    for (std::size_t v = 0; v < heard.size(); ++v)
        heard[v] =
            static_cast<std::uint64_t>(std::clamp(static_cast<double>(command.values[v].value), 0.0, most_counted));
    state_.plays->count_from(sound, times, heard);
}

void Router::lose_input() noexcept {
    state_.pointers.lose_all();
    keys_.lose_all();
    state_.touches.lose_all();
}

void Router::serve_playhead(const Command& command, const Event& event) noexcept {
    const int motion = state_.motions.number_of(command.name);
    if (motion < 0) return state_.say(Outcome::unknown_name, event);
    if (command.report == ReportKind::playhead)
        state_.motions.report(motion, static_cast<int>(command.pointer),
                              command.in_seconds ? state_.motions.frame_at(motion, command.value) : command.value);
    else
        state_.motions.gone(motion, static_cast<int>(command.pointer));
}

void Router::serve_zone(const Command& command, const Event& event) noexcept {
    const int zone = state_.zones.number_of(command.name);
    if (zone < 0) return state_.say(Outcome::unknown_name, event);
    if (command.report == ReportKind::zone_gone)
        state_.zones.take_away(zone);
    else
        state_.zones.put(zone, command.point, static_cast<float>(command.value));
    state_.pointers.look_again();
}

void Router::turn(const Command& command, const Event& event) noexcept {
    const int index = state_.plan.dial_of(command.name);
    if (index < 0) return state_.say(Outcome::unknown_name, event);
    const model::Dial& dial = state_.project.dials[static_cast<std::size_t>(index)];
    const double value = command.value, held = std::clamp(value, dial.low, dial.high);
    // A float does not exactly equal the number in kiai.toml.
    if (std::abs(held - value) > 1e-6 * (dial.high - dial.low)) state_.say(Outcome::out_of_range, event);
    actions_.set_dial(index, held, 0);
}

} // namespace kiai::rules
