#include "core/rules/snapshot.h"

#include "core/dsp/math.h"

namespace kiai::rules {

using mixer::Command;

void Snapshot::record(Command command, ReportKind report) noexcept {
    command.report = report;
    command.due = state_.now;
    state_.journal->serve(command);
}

void Snapshot::take() noexcept {
    scopes();
    levels();
    counts();
    held();
}

void Snapshot::scopes() noexcept {
    for (int s = 0; s < state_.scopes.count(); ++s) {
        Command command;
        command.name = state_.scopes.name(s);
        const model::Scope& scope = state_.project.scopes[static_cast<std::size_t>(s)];
        if (scope.gone) continue;
        if (state_.scopes.on(s) != scope.on)
            record(command, state_.scopes.on(s) ? ReportKind::scope_enter : ReportKind::scope_leave);
        if (state_.scopes.paused(s)) record(command, ReportKind::scope_pause);
    }
}

void Snapshot::levels() noexcept {
    for (std::size_t d = 0; d < state_.project.dials.size(); ++d) {
        const model::Dial& dial = state_.project.dials[d];
        const double value = state_.plays->dial(static_cast<int>(d));
        if (dial.gone || !state_.watches.knows(static_cast<int>(d)) || (dial.starts && value == dial.start)) continue;
        Command command;
        command.name = state_.dial_names[d];
        command.value = value;
        record(command, ReportKind::dial);
    }
    for (std::size_t b = 0; b < state_.project.buses.size(); ++b) {
        if (state_.project.buses[b].gone) continue;
        Command command;
        command.name = state_.bus_names[b];
        const int bus = static_cast<int>(b);
        if (state_.plays->bus_gain(bus) != 1) {
            command.value = dsp::gain_to_db(state_.plays->bus_gain(bus));
            record(command, ReportKind::bus_gain);
        }
        command.value = 1;
        if (state_.plays->bus_muted(bus)) record(command, ReportKind::bus_mute);
    }
    state_.zones.for_each_moved([&](int zone, bool away, model::Spot middle, double scale) {
        Command command;
        command.name = state_.zones.name(zone);
        command.point = {static_cast<float>(middle.x), static_cast<float>(middle.y)};
        command.value = scale;
        record(command, away ? ReportKind::zone_gone : ReportKind::zone);
    });
}

void Snapshot::counts() noexcept {
    for (std::size_t s = 0; s < state_.project.sounds.size(); ++s) {
        const int sound = static_cast<int>(s);
        if (state_.project.sounds[s].gone || state_.plays->accepted(sound) == 0) continue;
        Command command;
        command.name = state_.sound_names[s];
        command.value = static_cast<double>(state_.plays->accepted(sound));
        for (std::size_t l = 0; l < command.values.size(); ++l)
            command.values[l] = {state_.sound_names[s], static_cast<float>(state_.plays->heard(sound, l))};
        record(command, ReportKind::counted);
    }
    for (std::size_t b = 0; b < state_.project.bindings.size(); ++b) {
        if (state_.rules.came(b) == 0) continue;
        Command command;
        command.pair = b + 1;
        command.value = static_cast<double>(state_.rules.came(b));
        command.in_seconds = state_.rules.acted(b);
        record(command, ReportKind::counted);
    }
}

void Snapshot::held() noexcept {
    keys_.for_each([&](model::NameId key) {
        Command command;
        command.name = key;
        record(command, ReportKind::key_down);
    });
    state_.pointers.for_each([&](std::uint64_t pointer, bool down, Point pressed, Point at) {
        Command command;
        command.pointer = pointer;
        command.point = pressed;
        if (down) record(command, ReportKind::press);
        command.point = at;
        record(command, ReportKind::pointer);
    });
    state_.touches.for_each(
        [&](std::uint64_t pair, model::NameId kind, model::NameId other, float strength, float place) {
            Command command;
            command.name = kind;
            command.other = other;
            command.pair = pair;
            command.options.strength = strength;
            command.options.place = place;
            record(command, ReportKind::contact);
        });
    state_.bodies.for_each([&](std::uint64_t number, model::NameId kind, Point middle, double half_width,
                               double half_height, double moment) {
        Command command;
        command.name = kind;
        command.pair = number;
        command.point = middle;
        command.value = half_width;
        command.over = static_cast<float>(half_height);
        command.moment = moment;
        record(command, ReportKind::body);
    });
    state_.motions.for_each([&](model::NameId motion, int playhead, double frame) {
        Command command;
        command.name = motion;
        command.pointer = static_cast<std::uint64_t>(playhead);
        command.value = frame;
        record(command, ReportKind::playhead);
    });
}

} // namespace kiai::rules
