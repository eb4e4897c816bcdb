#include "core/engine/intake.h"

#include "core/rules/motions.h"

#include <algorithm>
#include <cmath>

namespace kiai::engine {

using mixer::Command;
using mixer::CommandKind;

namespace {

/// Clamps a number to its range and marks the report if it was outside. If the number is not finite, the report is
/// ignored.
template<class Number>
void check(Command& command, Number& value, std::type_identity_t<Number> low,
           std::type_identity_t<Number> high) noexcept {
    if (!std::isfinite(value)) {
        command.bad = true;
        value = 0; // so that everything can be computed from it
        return;
    }
    const Number held = std::clamp(value, low, high);
    if (held != value) command.held = true;
    value = held;
}

constexpr double longest = 3600;      ///< seconds
constexpr double furthest = 1e6;      ///< seconds, of a place in a clip
constexpr int most_turns = 1'000'000; ///< of a loop with an end

/// The ranges of the numbers in calls on a play.
struct Range {
    double low = 0, high = 0;
};
Range range_of(ReportKind kind) noexcept {
    switch (kind) {
    case ReportKind::play_gain:
        return {-120, 24};
    case ReportKind::play_pitch:
        return {-48, 48};
    case ReportKind::play_pan:
        return {-1, 1};
    case ReportKind::play_seek:
        return {0, furthest};
    default:
        return {-1e30, 1e30};
    }
}

} // namespace

/// Returns when a body was at its reported position, in seconds: as the app says, by the frame that it names, or now.
double Intake::moment_of(std::optional<Seconds> given, Frames due) const noexcept {
    if (given) return given->count();
    if (due != mixer::next_block) return static_cast<double>(due) / settings_.rate;
    return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

void Intake::take_options(Command& command, const PlayOptions& options) {
    mixer::PlayNumbers& into = command.options;
    into.gain = options.gain;
    into.pitch = options.pitch;
    into.pan = options.pan;
    into.strength = options.strength;
    into.place = options.place;
    check(command, into.gain, -120, 24);
    check(command, into.pitch, -48, 48);
    check(command, into.pan, -1, 1);
    check(command, into.strength, 0, 1e9f);
    check(command, into.place, -1, 1);
    into.layer = static_cast<std::int16_t>(std::clamp(options.layer, -1, 32767));
    into.fade_in = options.fade_in.count();
    into.start = options.start.count();
    into.length = options.length.count();
    for (double* time : {&into.fade_in, &into.start, &into.length}) check(command, *time, 0, longest);
    double delay = options.delay.count();
    check(command, delay, 0, longest);
    command.delay = static_cast<std::int32_t>(delay * settings_.rate + 0.5);
    if (options.loop) {
        into.turns = std::clamp(*options.loop, 0, most_turns);
        command.held = command.held || into.turns != *options.loop;
    }
}

model::NameId Intake::number_of(AnyName name) {
    if (name.number() != 0 && names_.has(name.number(), name.hash())) return name.number();
    return names_.add_reported(name.text());
}

void Intake::ask_ahead(AnyName name) const noexcept {
    if (name.number() != 0) return names_.prefetch(name.number());
    if (!name.empty()) names_.prefetch(name.text());
}

bool Intake::take(ReportKind kind, AnyName name, AnyName other, Numbers numbers) {
    Command command;
    ask_ahead(name); // the rest is done while it comes
    command.due = numbers.due == mixer::next_block ? due() : numbers.due;
    command.report = kind;
    bool named = true;
    const auto numbered = [&](AnyName given) {
        const model::NameId id = given.empty() ? model::no_name : number_of(given);
        named = named && (given.empty() || id != model::no_name);
        return id;
    };
    command.point = numbers.point;
    const bool pointer = kind == ReportKind::press || kind == ReportKind::pointer;
    if (pointer && (numbers.point.x != 0 || numbers.point.y != 0)) pointed_.store(true, std::memory_order_relaxed);
    take_options(command, numbers.options);
    if (!numbers.options.bus.empty()) command.options.bus = numbered(numbers.options.bus);
    if (numbers.options.at) command.due = std::max<Frames>(0, *numbers.options.at);
    command.from = numbered(numbers.from);
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
        return good ? std::clamp(given.count(), 0.0, longest) : 0.0;
    };
    command.over = static_cast<float>(time(numbers.over));
    command.target = numbers.target;
    command.fade = numbers.fade.count() < 0 ? -1 : static_cast<float>(time(numbers.fade));
    for (std::size_t v = 0; v < numbers.values.size(); ++v) {
        if (!std::isfinite(numbers.values[v].value)) command.bad = true;
        if (v < command.values.size()) command.values[v] = {numbered(numbers.values[v].name), numbers.values[v].value};
    }
    const bool playhead = kind == ReportKind::playhead || kind == ReportKind::playhead_gone;
    command.pointer = playhead ? std::min<std::uint64_t>(numbers.pointer, rules::most_playheads - 1) : numbers.pointer;
    command.held = command.held || command.pointer != numbers.pointer || numbers.values.size() > command.values.size();
    if (!std::isfinite(numbers.point.x) || !std::isfinite(numbers.point.y)) command.bad = true;
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
    command.name = numbered(name);
    command.other = numbered(other);
    core_.handles().set_name(numbers.handle, command.name);
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

mixer::Handles::Handle Intake::handle_of(std::uint64_t number) {
    const std::lock_guard guard(mutex_);
    const auto found = by_number_.find(number);
    return found == by_number_.end() ? mixer::Handles::Handle() : found->second;
}

mixer::Handles::Handle Intake::begin(ReportKind kind, AnyName name, AnyName scope, Numbers numbers) {
    numbers.handle = core_.handles().claim();
    take(kind, name, scope, numbers);
    return numbers.handle;
}

bool Intake::tell(mixer::Handles::Handle handle, const Told& told, Frames due) {
    Command command;
    command.due = due == mixer::next_block ? this->due() : due;
    command.kind = CommandKind::of_play;
    command.report = told.kind;
    command.handle = handle.slot;
    command.generation = handle.generation;
    command.value = told.value;
    const auto [low, high] = range_of(told.kind);
    check(command, command.value, low, high);
    const double over = told.over.count();
    if (told.kind == ReportKind::play_stop) {
        command.bad = !std::isfinite(over);
        command.fade = command.bad ? 0 : static_cast<float>(std::min(over, longest));
    } else {
        command.over = static_cast<float>(over);
        check(command, command.over, 0, static_cast<float>(longest));
    }
    if (!told.name.empty()) {
        command.name = number_of(told.name);
        if (command.name == model::no_name) {
            core_.ring().lose_name();
            return false;
        }
    }
    return send(command);
}

void Intake::forget_ended_numbers() {
    const std::lock_guard guard(mutex_);
    if (by_number_.size() < numbers_kept_) return;
    std::erase_if(by_number_, [&](const auto& entry) { return !core_.handles().playing(entry.second); });
    numbers_kept_ = std::max<std::size_t>(256, 2 * by_number_.size());
}

} // namespace kiai::engine
