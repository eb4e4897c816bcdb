// What is due: the time's own, then the app's reports.
#include "core/rules/router.h"

#include "core/dsp/kernels.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <tuple>
#include <utility>

namespace kiai::rules {

using mixer::Command;
using mixer::CommandKind;
using mixer::Plays;

namespace {
constexpr std::size_t most_keys_down = 256;
constexpr double most_counted = 1e7;                         ///< plays before a recording
constexpr int allowed_at_once = 4096, allowed_for_each = 64; ///< of what one frame causes; beside that, for each report
} // namespace

Router::Router(const mixer::Plan& plan, model::NameTable& names, const mixer::CoreSettings& settings)
    : plan_(plan), project_(plan.project()), bindings_(project_.bindings, names),
      rules_(project_.bindings, names, plan.rate(), settings.seed), scopes_(project_.scopes, names),
      zones_(project_.zones, names), pointers_(zones_, *this), touches_(*this, 2 * settings.reports),
      bodies_(project_.bindings, names, *this), motions_(project_.motions, names, *this),
      watches_(project_, names, *this), agenda_(project_.bindings.size() + Sequences::most_branches),
      timers_(project_.bindings, agenda_, plan.rate()), sequences_(project_.sequences, plan.rate(), agenda_, *this),
      start_(names.add(to_string(ReportKind::start))), paused_at_(project_.scopes.size()) {
    for (const model::Sound& sound : project_.sounds) sound_names_.push_back(names.add(sound.name));
    for (const model::Dial& dial : project_.dials) dial_names_.push_back(names.add(dial.name));
    for (const model::Bus& bus : project_.buses) bus_names_.push_back(names.add(bus.name));
    for (const model::Binding& binding : project_.bindings) binding_names_.push_back(names.add(binding.name));
    for (const model::Action* action : plan.actions())
        action_names_.push_back(action ? names.add(action->name) : model::no_name);
    for (std::size_t s = 0; s < project_.sequences.size(); ++s) {
        sequence_names_.push_back(names.add(project_.sequences[s].name));
        if (!project_.sequences[s].gone) sequence_by_name_.add(sequence_names_.back(), static_cast<int>(s));
    }
    winding_.ended.resize(project_.sounds.size());
    winding_.ran.resize(project_.sequences.size());
    down_.reserve(most_keys_down);
}

Frames Router::next(const Plays& plays, Frames now) const noexcept {
    // The end of a play is served at the clock's next cell, so that it does not depend on the blocks.
    // So is what has begun while it winds down.
    const Frames cell = plays.awaited() || winding_.on ? (now / dsp::cell + 1) * dsp::cell : Agenda::never;
    return std::min(cell, agenda_.next());
}

void Router::serve(std::span<const Command* const> commands, Plays& plays, Frames now) noexcept {
    now_ = now;
    plays_ = &plays;
    allowance_ = allowed_at_once + allowed_for_each * static_cast<int>(commands.size());
    if (!begun_) begin();
    serve_time();
    for (std::size_t i = 0; i < commands.size(); ++i) {
        ask_ahead(commands, i);
        const bool begins = commands[i]->kind == CommandKind::snapshot; // a recording
        if (begins) journal_->begin_recording();
        journal_->serve(*commands[i]);
        if (begins)
            snapshot();
        else
            serve_one(*commands[i]);
    }
}

/// Where many reports are due at once, what the later ones need is asked for while the earlier ones are served.
void Router::ask_ahead(std::span<const Command* const> commands, std::size_t at) const noexcept {
    constexpr std::size_t slot = 12, bound = 8, actions = 4; // reports ahead
    const auto ask = [&](std::size_t ahead, auto call) {
        if (at + ahead >= commands.size()) return;
        const Command& command = *commands[at + ahead];
        (bindings_.*call)(command.report, command.name, command.other);
    };
    if (commands.size() <= slot) return;
    ask(slot, &Bindings::ask_for_slot);
    ask(bound, &Bindings::ask_for_bound);
    ask(actions, &Bindings::ask_for_actions);
}

void Router::begin() noexcept {
    begun_ = true;
    Event start;
    start.kind = ReportKind::start;
    start.name = start_;
    start.quiet = true;
    if (!bindings_.find(start.kind, start.name).empty()) happen(start);
    timers_.begin(-1, now_);
    watches_.look(-1, *plays_, 0);
    for (int s = 0; s < scopes_.count(); ++s)
        if (project_.scopes[static_cast<std::size_t>(s)].on) enter(s, 0);
}

void Router::serve_time() noexcept {
    if (now_ % dsp::cell == 0) {
        for (const mixer::EndedPlay& play : plays_->ended()) {
            sequences_.ended(play, now_);
            if (!plan_.at(play.sound).awaited || !once_more(winding_.ended, play.sound)) continue;
            Event ended;
            ended.kind = ReportKind::ended;
            ended.name = sound_names_[static_cast<std::size_t>(play.sound)];
            allowance_ += allowed_for_each;
            happen(ended);
        }
        plays_->forget_ended();
        if (winding_.on) keep_winding_down();
    }
    while (agenda_.next() <= now_) {
        const Agenda::Entry entry = agenda_.take();
        if (entry.kind == Agenda::Entry::Kind::branch) {
            sequences_.go_on(entry.number, now_);
            continue;
        }
        Event timer;
        timer.kind = project_.bindings[static_cast<std::size_t>(entry.number)].trigger;
        timer.name = binding_names_[static_cast<std::size_t>(entry.number)];
        timer.binding = entry.number;
        timers_.go_on(entry.number);
        allowance_ += allowed_for_each;
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
    if (command.late) say(Outcome::late, event);
    if (command.held) say(Outcome::out_of_range, event);
    if (command.bad) {
        if (command.kind == CommandKind::report) plays_->forget({command.handle, command.generation});
        return say(Outcome::bad_number, event);
    }
    if (command.kind == CommandKind::report) return serve_report(command, event);
    serve_handle(command, begin_record(event));
}

void Router::serve_handle(const Command& command, decisions::Record cause) noexcept {
    const mixer::Handles::Handle handle{command.handle, command.generation};
    switch (command.kind) {
    case CommandKind::report:
    case CommandKind::snapshot:
        return;
    case CommandKind::stop_play:
        return plays_->stop_play(handle, command.fade, cause.cause, now_);
    case CommandKind::pause_play:
    case CommandKind::resume_play:
        return plays_->pause_play(handle, command.kind == CommandKind::pause_play, now_);
    case CommandKind::wind_down:
        return wind_down(command.fade, cause.cause);
    case CommandKind::gain_play:
        return plays_->set_gain(handle, command.options.gain, now_);
    case CommandKind::value_play:
        if (const int sound = plays_->set_own(handle, command.name, command.value); sound >= 0) {
            cause.sound = sound;
            write(cause, Outcome::unknown_value);
        }
        return;
    }
}

void Router::serve_report(const Command& command, const Event& event) noexcept {
    switch (command.report) {
    case ReportKind::press:
        return pointers_.press(command.pointer, command.point, now_, plan_.rate());
    case ReportKind::release:
        return pointers_.release(command.pointer);
    case ReportKind::pointer:
        return pointers_.move(command.pointer, command.point);
    case ReportKind::pointer_gone:
        return pointers_.gone(command.pointer);
    case ReportKind::key_down:
        return key_down(event);
    case ReportKind::key_up:
        return key_up(command.name, false);
    case ReportKind::contact:
        return touches_.touch(event, command.pair);
    case ReportKind::contact_end:
        return touches_.contact_end(command.pair);
    case ReportKind::body:
        return bodies_.put(event, command.pair, command.point, command.value, command.over, command.moment);
    case ReportKind::body_gone:
        return bodies_.gone(command.pair);
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
        return serve_scope(command, event);
    case ReportKind::zone:
    case ReportKind::zone_gone:
        return serve_zone(command, event);
    case ReportKind::input_lost:
        return lose_input();
    case ReportKind::bus_gain:
    case ReportKind::bus_mute:
        return serve_bus(command, event);
    case ReportKind::counted:
        return serve_counted(command);
    default:
        return serve_direct(command, event);
    }
}

/// How often something has come before a recording began.
void Router::serve_counted(const Command& command) noexcept {
    const auto times = static_cast<std::uint64_t>(std::clamp(command.value, 0.0, most_counted));
    if (command.pair != 0) return rules_.count_from(command.pair - 1, times, command.in_seconds);
    const int sound = plan_.sound_of(command.name);
    if (sound < 0) return;
    std::array<std::uint64_t, std::tuple_size_v<mixer::NamedNumbers>> heard{};
    for (std::size_t v = 0; v < heard.size(); ++v)
        heard[v] =
            static_cast<std::uint64_t>(std::clamp(static_cast<double>(command.values[v].value), 0.0, most_counted));
    plays_->count_from(sound, times, heard);
}

/// Reporting the same state again does nothing; the log says so once, but where the keyboard's repeats are wanted.
void Router::key_down(const Event& event) noexcept {
    const auto key = std::find_if(down_.begin(), down_.end(), [&](const Down& one) { return one.name == event.name; });
    Event down = event;
    down.holder = holder_of(ReportKind::key_down, event.name);
    if (key == down_.end()) {
        if (down_.size() == most_keys_down) return say(Outcome::no_room, event);
        down_.push_back({event.name, false, {}});
        down_.back().repeats.begin(now_);
        happen(down);
        return;
    }
    const auto bound = bindings_.find(ReportKind::key_down, event.name);
    down.repeated = true;
    if (std::any_of(bound.begin(), bound.end(), [](const Bound& one) { return one.repeats; })) {
        happen(down);
        return;
    }
    if (!std::exchange(key->said, true)) say(Outcome::same_state, event);
    if (key->repeats.again(now_, plan_.rate())) say(Outcome::unended, event);
}

void Router::key_up(model::NameId name, bool lost) noexcept {
    if (std::erase_if(down_, [&](const Down& one) { return one.name == name; }) == 0) return;
    Event up;
    up.kind = ReportKind::key_up;
    up.name = name;
    up.quiet = true; // its key-down was answered
    up.lost = lost;
    over(holder_of(ReportKind::key_down, name), up, happen(up));
}

void Router::lose_input() noexcept {
    pointers_.lose_all();
    while (!down_.empty()) key_up(down_.back().name, true);
    touches_.lose_all();
}

void Router::wind_down(double seconds, std::uint64_t by) noexcept {
    winding_.on = true;
    winding_.seconds = seconds;
    winding_.by = by;
    agenda_.remove_timers();
    keep_winding_down();
}

/// What began since, and would go on for ever, ends too.
void Router::keep_winding_down() noexcept {
    sequences_.stop_if([&](int sequence, int) { return sequences_.endless(sequence); }, [](std::uint32_t) {});
    plays_->stop_loops(winding_.seconds, winding_.by, now_);
}

/// Whether it may come: while it winds down, each once.
bool Router::once_more(std::vector<bool>& came, int number) noexcept {
    if (!winding_.on) return true;
    const bool first = !came[static_cast<std::size_t>(number)];
    came[static_cast<std::size_t>(number)] = true;
    return first;
}

void Router::serve_playhead(const Command& command, const Event& event) noexcept {
    const int motion = motions_.number_of(command.name);
    if (motion < 0) return say(Outcome::unknown_name, event);
    if (command.report == ReportKind::playhead)
        motions_.report(motion, static_cast<int>(command.pointer),
                        command.in_seconds ? motions_.frame_at(motion, command.value) : command.value);
    else
        motions_.gone(motion, static_cast<int>(command.pointer));
}

void Router::serve_zone(const Command& command, const Event& event) noexcept {
    const int zone = zones_.number_of(command.name);
    if (zone < 0) return say(Outcome::unknown_name, event);
    if (command.report == ReportKind::zone_gone)
        zones_.take_away(zone);
    else
        zones_.put(zone, command.point, static_cast<float>(command.value));
    pointers_.look_again();
}

void Router::turn(const Command& command, const Event& event) noexcept {
    const int index = plan_.dial_of(command.name);
    if (index < 0) return say(Outcome::unknown_name, event);
    const model::Dial& dial = project_.dials[static_cast<std::size_t>(index)];
    const double value = command.value, held = std::clamp(value, dial.low, dial.high);
    // A float is not quite the number that kiai.toml says.
    if (std::abs(held - value) > 1e-6 * (dial.high - dial.low)) say(Outcome::out_of_range, event);
    set_dial(index, held, 0);
}

void Router::set_dial(int dial, double value, std::uint64_t from) noexcept {
    plays_->set_dial(dial, value);
    watches_.know(dial);
    watches_.look(dial, *plays_, from);
}

} // namespace kiai::rules
