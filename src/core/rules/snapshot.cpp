// The state at the moment at which a recording begins, as reports: so that its rehearsal begins with the same.
#include "core/rules/router.h"

#include "core/dsp/math.h"

namespace kiai::rules {

using mixer::Command;

/// Not served, only written down.
void Router::record(Command command, ReportKind report) noexcept {
    command.report = report;
    command.due = now_;
    journal_->serve(command);
}

void Router::snapshot() noexcept {
    snapshot_scopes();
    snapshot_levels();
    snapshot_counts();
    snapshot_held();
}

void Router::snapshot_scopes() noexcept {
    for (int s = 0; s < scopes_.count(); ++s) {
        Command command;
        command.name = scopes_.name(s);
        const model::Scope& scope = project_.scopes[static_cast<std::size_t>(s)];
        if (scope.gone) continue;
        if (scopes_.on(s) != scope.on)
            record(command, scopes_.on(s) ? ReportKind::scope_enter : ReportKind::scope_leave);
        if (scopes_.paused(s)) record(command, ReportKind::scope_pause);
    }
}

void Router::snapshot_levels() noexcept {
    for (std::size_t d = 0; d < project_.dials.size(); ++d) {
        const model::Dial& dial = project_.dials[d];
        const double value = plays_->dial(static_cast<int>(d));
        if (dial.gone || !watches_.knows(static_cast<int>(d)) || (dial.starts && value == dial.start)) continue;
        Command command;
        command.name = dial_names_[d];
        command.value = value;
        record(command, ReportKind::dial);
    }
    for (std::size_t b = 0; b < project_.buses.size(); ++b) {
        if (project_.buses[b].gone) continue;
        Command command;
        command.name = bus_names_[b];
        const int bus = static_cast<int>(b);
        if (plays_->bus_gain(bus) != 1) {
            command.value = dsp::gain_to_db(plays_->bus_gain(bus));
            record(command, ReportKind::bus_gain);
        }
        command.value = 1;
        if (plays_->bus_muted(bus)) record(command, ReportKind::bus_mute);
    }
    zones_.for_each_moved([&](int zone, bool away, model::Spot middle, double scale) {
        Command command;
        command.name = zones_.name(zone);
        command.point = {static_cast<float>(middle.x), static_cast<float>(middle.y)};
        command.value = scale;
        record(command, away ? ReportKind::zone_gone : ReportKind::zone);
    });
}

void Router::snapshot_counts() noexcept {
    for (std::size_t s = 0; s < project_.sounds.size(); ++s) {
        const int sound = static_cast<int>(s);
        if (project_.sounds[s].gone || plays_->accepted(sound) == 0) continue;
        Command command;
        command.name = sound_names_[s];
        command.value = static_cast<double>(plays_->accepted(sound));
        for (std::size_t l = 0; l < command.values.size(); ++l)
            command.values[l] = {sound_names_[s], static_cast<float>(plays_->heard(sound, l))};
        record(command, ReportKind::counted);
    }
    for (std::size_t b = 0; b < project_.bindings.size(); ++b) {
        if (rules_.came(b) == 0) continue;
        Command command;
        command.pair = b + 1;
        command.value = static_cast<double>(rules_.came(b));
        command.in_seconds = rules_.acted(b);
        record(command, ReportKind::counted);
    }
}

void Router::snapshot_held() noexcept {
    for (const Down& key : down_) {
        Command command;
        command.name = key.name;
        record(command, ReportKind::key_down);
    }
    pointers_.for_each([&](std::uint64_t pointer, bool down, Point pressed, Point at) {
        Command command;
        command.pointer = pointer;
        command.point = pressed;
        if (down) record(command, ReportKind::press);
        command.point = at;
        record(command, ReportKind::pointer);
    });
    touches_.for_each([&](std::uint64_t pair, model::NameId kind, model::NameId other, float strength, float place) {
        Command command;
        command.name = kind;
        command.other = other;
        command.pair = pair;
        command.options.strength = strength;
        command.options.place = place;
        record(command, ReportKind::contact);
    });
    bodies_.for_each([&](std::uint64_t number, model::NameId kind, Point middle, double half_width, double half_height,
                         double moment) {
        Command command;
        command.name = kind;
        command.pair = number;
        command.point = middle;
        command.value = half_width;
        command.over = static_cast<float>(half_height);
        command.moment = moment;
        record(command, ReportKind::body);
    });
    motions_.for_each([&](model::NameId motion, int playhead, double frame) {
        Command command;
        command.name = motion;
        command.pointer = static_cast<std::uint64_t>(playhead);
        command.value = frame;
        record(command, ReportKind::playhead);
    });
}

} // namespace kiai::rules
