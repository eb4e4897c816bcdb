#include "triggers/router.h"

#include <algorithm>
#include <cmath>
#include <iterator>

namespace kiai::triggers {

using engine::Command;
using engine::CommandKind;
using engine::Plays;
using engine::Record;

Router::Router(const engine::Plan& plan, engine::NameTable& names, std::size_t most_reports)
    : plan_(plan), zones_(plan.project().zones), bindings_(plan.project().bindings, names),
      keys_(engine::NameTable::capacity) {
    for (const model::Zone& zone : plan.project().zones) zone_names_.push_back(names.add(zone.name));
    contacts_.reserve(most_reports);
}

void Router::write(Record record, Outcome outcome) noexcept {
    record.frame = now_;
    record.outcome = outcome;
    journal_->write(record);
}

/// Of the contacts at one frame the strongest is served first, so that it is not the one that a limit refuses.
void Router::strongest_first(std::span<Command> commands) noexcept {
    const auto is_contact = [](const Command& c) {
        return c.kind == CommandKind::report && c.report == ReportKind::contact;
    };
    contacts_.clear();
    std::copy_if(commands.begin(), commands.end(), std::back_inserter(contacts_), is_contact);
    if (contacts_.size() < 2) return;
    std::sort(contacts_.begin(), contacts_.end(), [](const Command& a, const Command& b) {
        return a.options.strength != b.options.strength ? a.options.strength > b.options.strength : a.ticket < b.ticket;
    });
    auto next = contacts_.begin();
    for (Command& command : commands)
        if (is_contact(command)) command = *next++;
}

void Router::serve(std::span<Command> commands, Plays& plays, Frames now) noexcept {
    now_ = now;
    strongest_first(commands);
    for (const Command& command : commands) serve_one(command, plays);
}

void Router::serve_one(const Command& command, Plays& plays) noexcept {
    const engine::Handles::Handle handle{command.handle, command.generation};
    Record cause;
    cause.cause = command.ticket;
    cause.trigger = command.report;
    cause.on = command.name;
    cause.on_other = command.other;
    if (command.late) write(cause, Outcome::late);
    if (command.held) write(cause, Outcome::out_of_range);
    if (command.bad) {
        if (command.kind == CommandKind::report) plays.forget(handle);
        return write(cause, Outcome::bad_number);
    }
    switch (command.kind) {
    case CommandKind::report:
        return serve_report(command, plays, cause);
    case CommandKind::stop_play:
        return plays.stop_play(handle, command.fade, command.ticket, now_);
    case CommandKind::stop_loops:
        return plays.stop_loops(command.fade, command.ticket, now_);
    case CommandKind::gain_play:
        return plays.set_gain(handle, command.options.gain, now_);
    case CommandKind::value_play:
        if (const int sound = plays.set_own(handle, command.name, command.value); sound >= 0) {
            cause.sound = sound;
            write(cause, Outcome::unknown_value);
        }
        return;
    }
}

void Router::serve_report(const Command& command, Plays& plays, Record cause) noexcept {
    switch (command.report) {
    case ReportKind::press:
        return press(command, plays, cause);
    case ReportKind::release:
        pointers_[command.pointer] = {};
        return;
    case ReportKind::key_down:
        return key_down(command, plays, cause);
    case ReportKind::key_up:
        keys_[command.name] = {};
        return;
    case ReportKind::contact:
        return carry_out(bindings_.find(ReportKind::contact, command.name, command.other), command, plays, cause);
    case ReportKind::notice:
        return carry_out(bindings_.find(ReportKind::notice, command.name), command, plays, cause);
    case ReportKind::play:
    case ReportKind::stop:
        return direct(command, plays, cause);
    case ReportKind::dial:
        return turn(command, plays, cause);
    }
}

/// Reporting the same state again does nothing; the log says so once.
void Router::say_once(bool& said, const Record& cause) noexcept {
    if (!said) write(cause, Outcome::same_state);
    said = true;
}

void Router::press(const Command& command, Plays& plays, Record cause) noexcept {
    const int zone = zones_.at(command.point);
    cause.on = zone < 0 ? engine::no_name : zone_names_[static_cast<std::size_t>(zone)];
    State& pointer = pointers_[command.pointer];
    if (pointer.down) return say_once(pointer.said, cause);
    pointer = {true, false};
    if (zone < 0) return write(cause, Outcome::no_zone);
    carry_out(bindings_.find(ReportKind::press, cause.on), command, plays, cause);
}

void Router::key_down(const Command& command, Plays& plays, Record cause) noexcept {
    State& key = keys_[command.name];
    if (key.down) return say_once(key.said, cause);
    key = {true, false};
    carry_out(bindings_.find(ReportKind::key_down, command.name), command, plays, cause);
}

void Router::carry_out(const std::vector<int>* bindings, const Command& command, Plays& plays, Record cause) noexcept {
    if (!bindings) return write(cause, Outcome::no_binding);
    for (const int index : *bindings) {
        cause.binding = index + 1;
        for (const model::Action& action : plan_.project().bindings[static_cast<std::size_t>(index)].actions) {
            if (action.kind == ReportKind::play)
                plays.request({action.sound, command.options, {}, cause}, now_);
            else
                plays.stop_sound(action.sound, cause, now_);
        }
    }
}

void Router::turn(const Command& command, Plays& plays, Record cause) noexcept {
    const int index = plan_.dial_of(command.name);
    if (index < 0) return write(cause, Outcome::unknown_name);
    const model::Dial& dial = plan_.project().dials[static_cast<std::size_t>(index)];
    const double value = command.value, held = std::clamp(value, dial.low, dial.high);
    // A float is not quite the number that kiai.toml says.
    if (std::abs(held - value) > 1e-6 * (dial.high - dial.low)) write(cause, Outcome::out_of_range);
    plays.set_dial(index, held);
}

void Router::direct(const Command& command, Plays& plays, Record cause) noexcept {
    const engine::Handles::Handle handle{command.handle, command.generation};
    const int sound = plan_.sound_of(command.name);
    if (sound < 0) {
        plays.forget(handle);
        return write(cause, Outcome::unknown_name);
    }
    if (command.report == ReportKind::play)
        plays.request({sound, command.options, handle, cause}, now_);
    else
        plays.stop_sound(sound, cause, now_);
}

} // namespace kiai::triggers
