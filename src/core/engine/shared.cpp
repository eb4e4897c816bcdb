// One call in, one fixed-size command on; records out, decisions on.
#include "core/engine/shared.h"

#include "core/dsp/math.h"
#include "core/model/key_codes.h"
#include "core/model/near.h"
#include "core/model/standard_error.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <iterator>

namespace kiai::inline v0 {

using decisions::Record;
using mixer::Command;
using mixer::CommandKind;

template<class Number>
void check(Command& command, Number& value, std::type_identity_t<Number> low,
           std::type_identity_t<Number> high) noexcept {
    if (!std::isfinite(value)) {
        command.bad = true;
        return;
    }
    const Number held = std::clamp(value, low, high);
    if (held != value) command.held = true;
    value = held;
}
template void check(Command&, float&, float, float) noexcept;
template void check(Command&, double&, double, double) noexcept;

/// When a body was where it is reported, in seconds: as the app says, by the frame that it names, or now.
double EngineShared::moment_of(std::optional<Seconds> given, Frames due) const noexcept {
    if (given) return given->count();
    if (due != mixer::next_block) return static_cast<double>(due) / settings.rate;
    return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

Command EngineShared::ending(CommandKind kind, Seconds fade) const noexcept {
    Command command;
    command.due = due();
    command.kind = kind;
    command.report = ReportKind::stop;
    command.bad = !std::isfinite(fade.count());
    command.fade = static_cast<float>(std::min(fade.count(), 3600.0));
    return command;
}

bool EngineShared::take(ReportKind kind, std::string_view name, std::string_view other, Numbers numbers) {
    Command command;
    command.due = numbers.due == mixer::next_block ? due() : numbers.due;
    command.report = kind;
    bool named = true;
    const auto numbered = [&](std::string_view text) {
        const model::NameId id = text.empty() ? model::no_name : names.add_reported(text);
        named = named && (text.empty() || id != model::no_name);
        return id;
    };
    command.name = numbered(name);
    command.other = numbered(other);
    command.point = numbers.point;
    const bool pointer = kind == ReportKind::press || kind == ReportKind::pointer;
    if (pointer && (numbers.point.x != 0 || numbers.point.y != 0)) pointed.store(true, std::memory_order_relaxed);
    command.options = numbers.options;
    command.value = numbers.value;
    if (!std::isfinite(command.value)) command.bad = true;
    command.handle = numbers.handle.slot;
    command.generation = numbers.handle.generation;
    command.pair = numbers.pair;
    command.with = numbers.with.slot;
    command.with_generation = numbers.with.generation;
    command.in_seconds = numbers.in_seconds;
    const auto time = [&](Seconds given) { // not a number: no frame count can be made of it
        const bool good = std::isfinite(given.count());
        command.bad = command.bad || !good;
        return good ? std::clamp(given.count(), 0.0, 3600.0) : 0.0;
    };
    command.over = static_cast<float>(time(numbers.over));
    const double delay = time(numbers.options.delay);
    command.delay = static_cast<Frames>(delay * settings.rate + 0.5);
    for (std::size_t v = 0; v < numbers.values.size(); ++v) {
        if (!std::isfinite(numbers.values[v].value)) command.bad = true;
        if (v < command.values.size()) command.values[v] = {numbered(numbers.values[v].name), numbers.values[v].value};
    }
    const bool playhead = kind == ReportKind::playhead || kind == ReportKind::playhead_gone;
    command.pointer = playhead ? std::min<std::uint64_t>(numbers.pointer, rules::most_playheads - 1) : numbers.pointer;
    command.held = command.pointer != numbers.pointer || numbers.values.size() > command.values.size() ||
                   (!command.bad && delay != numbers.options.delay.count());
    if (!std::isfinite(numbers.point.x) || !std::isfinite(numbers.point.y)) command.bad = true;
    check(command, command.options.gain, -120, 24);
    check(command, command.options.pitch, -48, 48);
    check(command, command.options.pan, -1, 1);
    check(command, command.options.strength, 0, 1e9f);
    check(command, command.options.place, -1, 1);
    if (kind == ReportKind::body) {
        if (numbers.size.x > 0 || numbers.size.y > 0) command.value = numbers.size.x / 2;
        command.over = numbers.size.y / 2;
        check(command, command.value, 0, 1e7);
        check(command, command.over, 0, 1e7f);
        command.bad = command.bad || numbers.pair == 0;
        command.moment = moment_of(numbers.moment, command.due);
        command.bad = command.bad || !std::isfinite(command.moment);
    }
    if (kind == ReportKind::counted) command.in_seconds = numbers.pointer != 0;
    if (kind == ReportKind::zone) check(command, command.value, 1e-3, 1e6);
    if (kind == ReportKind::bus_gain) check(command, command.value, -120, 24);
    if (!named) core.ring().lose_name();
    if (named && send(command)) return true;
    core.handles().end(numbers.handle, EndReason::none);
    return false;
}

void EngineShared::start_streams(const model::Project& project) {
    if (std::any_of(project.clips.begin(), project.clips.end(),
                    [](const model::Clip& clip) { return clip.streamed(); }))
        core.streams().start();
}

/// Only to append takes the lock that calls of the app take too; what takes long is done before.
void EngineShared::set_project(Project project) {
    const std::lock_guard one_at_a_time(changing_);
    const engine::Edition* before = nullptr;
    {
        const std::lock_guard guard(mutex);
        before = &editions.newest();
    }
    auto next = editions.build(std::move(project), *before);
    start_streams(next->given.data());
    const std::lock_guard guard(mutex);
    editions.append(std::move(next));
}

void EngineShared::app_threw(const char* what) noexcept {
    if (threw_) return;
    threw_ = true;
    const auto report = [&] {
        const Finding finding{FindingCode::callback_threw,
                              usual_severity(FindingCode::callback_threw),
                              {},
                              0,
                              0,
                              std::string("a callback of your app threw an exception: ") + what,
                              "catch it in the callback",
                              {},
                              {},
                              {}};
        if (doubts) doubts(finding);
    };
    engine::guarded(report, [](const char*) { // what reports it throws as well
        model::to_standard_error("kiai: a callback of your app threw an exception; catch it in the callback");
    });
}

std::string EngineShared::nearest(const Decision& decision) const {
    std::vector<std::string> known;
    const auto& data = told();
    const auto nearest_of = [&](const auto& entries) {
        for (const auto& entry : entries) known.push_back(entry.name);
        return model::nearest(decision.on, known);
    };
    if (decision.outcome == Outcome::unknown_name) switch (decision.trigger) {
        case ReportKind::dial:
            return nearest_of(data.dials);
        case ReportKind::scope_enter:
        case ReportKind::scope_leave:
        case ReportKind::scope_pause:
        case ReportKind::scope_resume:
            return nearest_of(data.scopes);
        case ReportKind::zone:
        case ReportKind::zone_gone:
            return nearest_of(data.zones);
        case ReportKind::playhead:
        case ReportKind::playhead_gone:
            return nearest_of(data.motions);
        case ReportKind::bus_gain:
        case ReportKind::bus_mute:
            return nearest_of(data.buses);
        case ReportKind::run:
            return nearest_of(data.sequences);
        default:
            return nearest_of(data.sounds);
        }
    if (decision.outcome == Outcome::unknown_value) {
        for (const mixer::PlannedSound& planned : editions.read().plan.sounds())
            if (planned.sound->name == decision.sound)
                for (const model::NameId value : planned.own_names) known.push_back(names.text(value));
        return model::nearest(decision.on, known);
    }
    for (const model::Binding& binding : told().bindings) {
        if (binding.trigger != decision.trigger) continue;
        known.push_back(binding.name + (binding.other.empty() ? "" : "+" + binding.other));
        if (!binding.other.empty()) known.push_back(binding.other + "+" + binding.name);
    }
    return model::nearest(decision.on, known);
}

LimitReached EngineShared::limit_of(const Record& record) const {
    using Kind = LimitReached::Kind;
    const auto measured = static_cast<double>(record.length), allowed = static_cast<double>(record.counted);
    const std::string sound =
        record.sound >= 0 ? told().sounds[static_cast<std::size_t>(record.sound)].name : std::string();
    switch (record.limit) {
    case 0:
        return {Kind::sound, sound, record.rule, measured, allowed};
    case Record::gap:
        return {Kind::gap, sound, record.rule, measured / settings.rate, allowed / settings.rate};
    case Record::engine:
        return {Kind::engine, {}, record.rule, 0, 0};
    default:
        return {Kind::bus, told().buses[static_cast<std::size_t>(record.limit - 1)].name, record.rule, measured,
                allowed};
    }
}

Decision EngineShared::translate(const decisions::Record& record) {
    Decision decision;
    decision.frame = record.frame;
    decision.outcome = record.outcome;
    decision.cause = record.cause;
    decision.from = record.from;
    if (record.action >= 0)
        decision.action = model::taken(*editions.read().plan.actions()[static_cast<std::size_t>(record.action)]);
    decision.trigger = record.trigger;
    decision.on = names.text(record.on);
    if (record.on_other != model::no_name) decision.on += "+" + names.text(record.on_other);
    decision.point = record.point;
    decision.paired = record.paired;
    decision.binding = record.binding;
    if (record.sound >= 0) decision.sound = told().sounds[static_cast<std::size_t>(record.sound)].name;
    decision.play = record.play;
    decision.other = record.other;
    decision.reason = record.reason;
    if (record.outcome == Outcome::stolen || record.outcome == Outcome::refused_limit ||
        record.outcome == Outcome::refused_gap)
        decision.limit = limit_of(record);
    if (record.trigger == ReportKind::bus_gain || record.trigger == ReportKind::bus_mute) decision.value = record.value;
    if (record.outcome == Outcome::not_met) {
        decision.rule =
            rules::Rules::text(told().bindings[static_cast<std::size_t>(record.binding - 1)], record.clause);
        decision.value = record.value;
    }
    decision.ended_by = record.ended_by;
    decision.level = static_cast<Decibels>(dsp::gain_to_db(record.peak));
    if (record.outcome == Outcome::ended) {
        decision.length = record.length;
        decision.counted = record.counted;
    }
    decision.count = record.outcome == Outcome::changed ? 0 : record.count;
    for (int l = 0; l < record.layers; ++l) {
        decisions::Record layer;
        if (!core.journal().read(layer)) break; // written in one with their head: never missing
        const auto share = static_cast<Decibels>(layer.share == 1 ? 0 : dsp::gain_to_db(layer.share));
        decision.layers.push_back({layer.layer + 1, told().clips[static_cast<std::size_t>(layer.clip)].name,
                                   layer.pitch, layer.gain + share, layer.pan, layer.take, layer.takes, layer.length});
    }
    // A zone's name cannot be misspelt by the app, and of keys that exist any may be pressed.
    const bool is_press = record.trigger == ReportKind::press ||
                          (record.trigger == ReportKind::key_down && model::is_key_code(decision.on));
    if (record.outcome == Outcome::unknown_name || record.outcome == Outcome::unknown_value ||
        (record.outcome == Outcome::no_binding && !is_press))
        decision.nearest = nearest(decision);
    const bool of_sounds = record.trigger == ReportKind::play || record.trigger == ReportKind::stop ||
                           record.trigger == ReportKind::toggle || record.trigger == ReportKind::pause ||
                           record.trigger == ReportKind::resume;
    if (record.outcome == Outcome::unknown_name && of_sounds)
        for (const model::LeftOut& one : told().left_out)
            if (one.name == decision.on) decision.excluded = true, decision.nearest.clear();
    return decision;
}

void EngineShared::await_end(mixer::Handles::Handle handle, std::function<void(EndReason)> call) {
    const std::lock_guard guard(mutex);
    const auto is_it = [&](const Waiting& one) {
        return one.handle.slot == handle.slot && one.handle.generation == handle.generation;
    };
    std::erase_if(waiting_, is_it);
    for (Waiting& one : calling_)
        if (is_it(one)) one.call = nullptr;
    if (call) waiting_.push_back({handle, std::move(call)});
}

/// In the order of the ends. A call may do anything, so nothing is held while it is made.
void EngineShared::call_ended() {
    std::unique_lock guard(mutex);
    if (waiting_.empty() || !calling_.empty()) return; // the latter: a call has called poll
    const auto over = std::stable_partition(waiting_.begin(), waiting_.end(),
                                            [&](const Waiting& one) { return core.handles().playing(one.handle); });
    calling_.assign(std::make_move_iterator(over), std::make_move_iterator(waiting_.end()));
    waiting_.erase(over, waiting_.end());
    std::stable_sort(calling_.begin(), calling_.end(), [&](const Waiting& a, const Waiting& b) {
        return core.handles().ended_at(a.handle) < core.handles().ended_at(b.handle);
    });
    for (std::size_t i = 0; i < calling_.size(); ++i) {
        const auto call = std::move(calling_[i].call);
        const EndReason reason = core.handles().reason(calling_[i].handle);
        guard.unlock();
        if (call) call_app([&] { call(reason); });
        guard.lock();
    }
    calling_.clear();
}

} // namespace kiai::inline v0
