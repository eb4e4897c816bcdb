#include "core/engine/trace_recorder.h"

#include <algorithm>
#include <utility>

namespace kiai::engine {

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
    case CommandKind::pitch_play:
        return ReportKind::play_pitch;
    case CommandKind::pan_play:
        return ReportKind::play_pan;
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

TraceLine TraceRecorder::line_of(const Command& command) {
    TraceLine line;
    line.frame = std::max<Frames>(0, command.due - command.delay - since_);
    Report& report = line.report;
    report.kind = report_of(command);
    report.name = names_.text(command.name);
    report.other = names_.text(command.other);
    report.point = command.point;
    report.pointer = command.pointer;
    report.options = command.options;
    report.options.delay = Seconds(static_cast<double>(command.delay) / rate_);
    report.value = static_cast<float>(command.value);
    report.pair = command.pair;
    report.over = Seconds(command.over);
    if (report.kind == ReportKind::wind_down) report.over = Seconds(command.fade), report.name.clear();
    if (report.kind == ReportKind::counted) report.pointer = command.in_seconds ? 1 : 0;
    for (const mixer::NamedNumber& value : command.values)
        if (value.name != model::no_name) report.values.push_back({names_.text(value.name), value.value});
    if (command.in_seconds && report.kind == ReportKind::playhead)
        for (const model::Motion& motion : editions_.read().plan.project().motions)
            if (motion.name == report.name) report.value = static_cast<float>(command.value * motion.rate);
    if (report.kind == ReportKind::body && command.over > 0) report.size = {2 * report.value, 2 * command.over};
    if (report.kind == ReportKind::body) report.moment = Seconds(command.moment);
    if (report.kind == ReportKind::play_stop) report.over = Seconds(command.fade);
    if (report.kind == ReportKind::play_gain) report.value = command.options.gain;
    if (report.kind == ReportKind::play_pitch) report.value = command.options.pitch;
    if (report.kind == ReportKind::play_pan) report.value = command.options.pan;
    const bool moves = report.kind == ReportKind::play_gain || report.kind == ReportKind::play_pitch ||
                       report.kind == ReportKind::play_pan;
    if (moves) report.options = {};
    report.target = command.target;
    report.fade = Seconds(command.fade);
    if (command.handle != mixer::no_handle) {
        const auto number = number_of_.try_emplace(packed(command.handle, command.generation), number_of_.size() + 1);
        report.pair = number.first->second;
    }
    return line;
}

void TraceRecorder::note_change(const decisions::Record& record) {
    if (!recording_) return;
    TraceLine& line = recorded_.lines.emplace_back();
    line.frame = std::max<Frames>(0, record.frame - since_);
    line.report.kind = ReportKind::project;
    line.report.name = names_.text(record.on);
}

void TraceRecorder::read_served() {
    Command command;
    if (recording_ && snapshot_owed_) snapshot_owed_ = !send_snapshot();
    while (core_.journal().read_served(command)) {
        if (command.kind == CommandKind::snapshot)
            since_ = command.due;
        else if (recording_ && !command.bad)
            recorded_.lines.push_back(line_of(command));
    }
}

bool TraceRecorder::send_snapshot() noexcept {
    Command command;
    command.kind = CommandKind::snapshot;
    return core_.ring().push(command) != 0;
}

void TraceRecorder::start(std::uint64_t seed) {
    read_served(); // what came before
    recorded_ = {};
    recorded_.sample_rate = rate_;
    recorded_.seed = seed;
    number_of_.clear();
    since_ = core_.now();
    unrecorded_before_ = core_.journal().unrecorded();
    recording_ = true;
    core_.journal().record(true);
    snapshot_owed_ = !send_snapshot(); // else the ring is full, and `poll` tries again
}

Trace TraceRecorder::stop(std::uint64_t* lost) {
    core_.journal().record(false);
    read_served();
    recording_ = false;
    if (lost) *lost = core_.journal().unrecorded() - unrecorded_before_;
    Trace trace = std::move(recorded_);
    std::stable_sort(trace.lines.begin(), trace.lines.end(),
                     [](const TraceLine& a, const TraceLine& b) { return *a.frame < *b.frame; });
    return trace;
}

} // namespace kiai::engine
