#include "core/engine/intake.h"

#include "core/rules/motions.h"

#include <algorithm>
#include <cmath>

namespace kiai::engine {

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
double Intake::moment_of(std::optional<Seconds> given, Frames due) const noexcept {
    if (given) return given->count();
    if (due != mixer::next_block) return static_cast<double>(due) / settings_.rate;
    return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

Command Intake::ending(CommandKind kind, Seconds fade) const noexcept {
    Command command;
    command.due = due();
    command.kind = kind;
    command.report = ReportKind::stop;
    command.bad = !std::isfinite(fade.count());
    command.fade = static_cast<float>(std::min(fade.count(), 3600.0));
    return command;
}

void check_options(Command& command) noexcept {
    check(command, command.options.gain, -120, 24);
    check(command, command.options.pitch, -48, 48);
    check(command, command.options.pan, -1, 1);
    check(command, command.options.strength, 0, 1e9f);
    check(command, command.options.place, -1, 1);
}

bool Intake::take(ReportKind kind, std::string_view name, std::string_view other, Numbers numbers) {
    Command command;
    command.due = numbers.due == mixer::next_block ? due() : numbers.due;
    command.report = kind;
    bool named = true;
    const auto numbered = [&](std::string_view text) {
        const model::NameId id = text.empty() ? model::no_name : names_.add_reported(text);
        named = named && (text.empty() || id != model::no_name);
        return id;
    };
    command.name = numbered(name);
    command.other = numbered(other);
    command.point = numbers.point;
    const bool pointer = kind == ReportKind::press || kind == ReportKind::pointer;
    if (pointer && (numbers.point.x != 0 || numbers.point.y != 0)) pointed_.store(true, std::memory_order_relaxed);
    command.options = numbers.options;
    command.value = numbers.value;
    if (!std::isfinite(command.value)) command.bad = true;
    command.handle = numbers.handle.slot;
    command.generation = numbers.handle.generation;
    core_.handles().set_name(numbers.handle, command.name);
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
    command.target = numbers.target;
    command.fade = numbers.fade.count() < 0 ? -1 : static_cast<float>(time(numbers.fade));
    const double delay = time(numbers.options.delay);
    bool clamped = false;
    for (Seconds PlayOptions::*const one : {&PlayOptions::fade_in, &PlayOptions::start, &PlayOptions::length}) {
        const double held = time(command.options.*one);
        clamped = clamped || (!command.bad && held != (command.options.*one).count());
        command.options.*one = Seconds(held);
    }
    command.delay = static_cast<Frames>(delay * settings_.rate + 0.5);
    for (std::size_t v = 0; v < numbers.values.size(); ++v) {
        if (!std::isfinite(numbers.values[v].value)) command.bad = true;
        if (v < command.values.size()) command.values[v] = {numbered(numbers.values[v].name), numbers.values[v].value};
    }
    const bool playhead = kind == ReportKind::playhead || kind == ReportKind::playhead_gone;
    command.pointer = playhead ? std::min<std::uint64_t>(numbers.pointer, rules::most_playheads - 1) : numbers.pointer;
    command.held = command.pointer != numbers.pointer || numbers.values.size() > command.values.size() || clamped ||
                   (!command.bad && delay != numbers.options.delay.count());
    if (!std::isfinite(numbers.point.x) || !std::isfinite(numbers.point.y)) command.bad = true;
    check_options(command);
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
    if (!named) core_.ring().lose_name();
    if (named && send(command)) return true;
    core_.handles().end(numbers.handle, EndReason::lost);
    return false;
}

mixer::Handles::Handle Intake::claim(std::uint64_t number) {
    const mixer::Handles::Handle handle = core_.handles().claim();
    const std::lock_guard guard(mutex_);
    by_number_[number] = handle;
    return handle;
}

bool Intake::take_of_play(const Report& report, Frames due) {
    Command command;
    command.due = due == mixer::next_block ? this->due() : due;
    command.report = ReportKind::play;
    {
        const std::lock_guard guard(mutex_);
        const auto found = by_number_.find(report.pair); // else it has ended
        if (found != by_number_.end()) command.handle = found->second.slot;
        if (found != by_number_.end()) command.generation = found->second.generation;
    }
    command.name = report.name.empty() ? model::no_name : names_.add_reported(report.name);
    command.value = report.value;
    command.bad = !std::isfinite(report.over.count());
    command.fade = static_cast<float>(std::min(report.over.count(), 3600.0));
    command.over = std::max(command.fade, 0.0f);
    switch (report.kind) {
    case ReportKind::play_stop:
        command.kind = CommandKind::stop_play;
        break;
    case ReportKind::play_gain:
        command.kind = CommandKind::gain_play;
        command.options.gain = report.value;
        break;
    case ReportKind::play_pitch:
        command.kind = CommandKind::pitch_play;
        command.options.pitch = report.value;
        break;
    case ReportKind::play_pan:
        command.kind = CommandKind::pan_play;
        command.options.pan = report.value;
        break;
    case ReportKind::play_set:
        command.kind = CommandKind::value_play;
        break;
    case ReportKind::play_pause:
        command.kind = CommandKind::pause_play;
        break;
    default:
        command.kind = CommandKind::resume_play;
        break;
    }
    check_options(command);
    return send(command);
}

void Intake::forget_ended_numbers() {
    const std::lock_guard guard(mutex_);
    if (by_number_.size() < numbers_kept_) return;
    std::erase_if(by_number_, [&](const auto& entry) { return !core_.handles().playing(entry.second); });
    numbers_kept_ = std::max<std::size_t>(256, 2 * by_number_.size());
}

} // namespace kiai::engine
