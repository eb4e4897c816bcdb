// What was served, as lines of a trace; and the plays that a trace tells apart by numbers.
#include "core/engine/shared.h"

#include <algorithm>

namespace kiai::inline v0 {

using mixer::Command;
using mixer::CommandKind;

namespace {

std::uint64_t packed(std::uint32_t slot, std::uint32_t generation) {
    return static_cast<std::uint64_t>(generation) << 32 | slot;
}

/// What a handle sends, as a report.
ReportKind report_of(const Command& command) {
    switch (command.kind) {
    case CommandKind::stop_play:
        return ReportKind::play_stop;
    case CommandKind::gain_play:
        return ReportKind::play_gain;
    case CommandKind::value_play:
        return ReportKind::play_set;
    case CommandKind::pause_play:
        return ReportKind::play_pause;
    case CommandKind::resume_play:
        return ReportKind::play_resume;
    case CommandKind::wind_down:
        return ReportKind::wind_down;
    default:
        return command.report;
    }
}

} // namespace

TraceLine EngineShared::line_of(const Command& command) {
    TraceLine line;
    line.frame = std::max<Frames>(0, command.due - command.delay - recording_since);
    Report& report = line.report;
    report.kind = report_of(command);
    report.name = names.text(command.name);
    report.other = names.text(command.other);
    report.point = command.point;
    report.pointer = command.pointer;
    report.options = command.options;
    report.options.delay = Seconds(static_cast<double>(command.delay) / settings.rate);
    report.value = static_cast<float>(command.value);
    report.pair = command.pair;
    report.over = Seconds(command.over);
    if (report.kind == ReportKind::wind_down) report.over = Seconds(command.fade), report.name.clear();
    if (report.kind == ReportKind::counted) report.pointer = command.in_seconds ? 1 : 0;
    for (const mixer::NamedNumber& value : command.values)
        if (value.name != model::no_name) report.values.push_back({names.text(value.name), value.value});
    if (command.in_seconds && report.kind == ReportKind::playhead)
        for (const model::Motion& motion : told().motions)
            if (motion.name == report.name) report.value = static_cast<float>(command.value * motion.rate);
    if (report.kind == ReportKind::body && command.over > 0) report.size = {2 * report.value, 2 * command.over};
    if (report.kind == ReportKind::body) report.moment = Seconds(command.moment);
    if (report.kind == ReportKind::play_stop) report.over = Seconds(command.fade);
    if (report.kind == ReportKind::play_gain) report.value = command.options.gain;
    if (command.handle != mixer::no_handle) {
        const auto number = number_of.try_emplace(packed(command.handle, command.generation), number_of.size() + 1);
        report.pair = number.first->second;
    }
    return line;
}

void EngineShared::read_change(const decisions::Record& record) {
    {
        const std::lock_guard guard(mutex);
        editions.read_on(record.count);
    }
    if (!recording) return;
    TraceLine& line = recorded.lines.emplace_back();
    line.frame = std::max<Frames>(0, record.frame - recording_since);
    line.report.kind = ReportKind::project;
    line.report.name = names.text(record.on);
}

void EngineShared::read_served() {
    Command command;
    if (recording && snapshot_owed) snapshot_owed = !send_snapshot();
    while (core.journal().read_served(command)) {
        if (command.kind == CommandKind::snapshot)
            recording_since = command.due;
        else if (recording && !command.bad)
            recorded.lines.push_back(line_of(command));
    }
}

bool EngineShared::send_snapshot() noexcept {
    Command command;
    command.kind = CommandKind::snapshot;
    return send(command);
}

bool EngineShared::take_of_play(const Report& report, Frames due) {
    Command command;
    command.due = due == mixer::next_block ? this->due() : due;
    command.report = ReportKind::play;
    {
        const std::lock_guard guard(mutex);
        const auto found = by_number.find(report.pair); // else it has ended
        if (found != by_number.end()) command.handle = found->second.slot;
        if (found != by_number.end()) command.generation = found->second.generation;
    }
    command.name = report.name.empty() ? model::no_name : names.add_reported(report.name);
    command.value = report.value;
    command.fade = static_cast<float>(std::min(report.over.count(), 3600.0));
    switch (report.kind) {
    case ReportKind::play_stop:
        command.kind = CommandKind::stop_play;
        break;
    case ReportKind::play_gain:
        command.kind = CommandKind::gain_play;
        command.options.gain = report.value;
        check(command, command.options.gain, -120, 24);
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
    return send(command);
}

/// Numbers of plays that have ended are only kept until there are many.
void EngineShared::forget_ended_numbers() {
    const std::lock_guard guard(mutex);
    if (by_number.size() < numbers_kept) return;
    std::erase_if(by_number, [&](const auto& entry) { return !core.handles().playing(entry.second); });
    numbers_kept = std::max<std::size_t>(256, 2 * by_number.size());
}

void Engine::start_recording() {
    shared_->read_served(); // what came before
    shared_->recorded = {};
    shared_->recorded.sample_rate = sample_rate();
    shared_->recorded.seed = seed();
    shared_->number_of.clear();
    shared_->recording_since = now();
    shared_->unrecorded_before = shared_->core.journal().unrecorded();
    shared_->recording = true;
    shared_->core.journal().record(true);
    shared_->snapshot_owed = !shared_->send_snapshot(); // else the ring is full, and `poll` tries again
}

Trace Engine::stop_recording(std::uint64_t* lost) {
    shared_->core.journal().record(false);
    shared_->read_served();
    shared_->recording = false;
    if (lost) *lost = shared_->core.journal().unrecorded() - shared_->unrecorded_before;
    Trace trace = std::move(shared_->recorded);
    std::stable_sort(trace.lines.begin(), trace.lines.end(),
                     [](const TraceLine& a, const TraceLine& b) { return *a.frame < *b.frame; });
    return trace;
}

} // namespace kiai::inline v0
