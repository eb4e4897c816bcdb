#include "core/engine/trace_recorder.h"
#include "core/model/sort_records.h"

#include <algorithm>
#include <utility>

namespace kiai::engine {

using mixer::Command;
using mixer::CommandKind;

namespace {

std::uint64_t packed(std::uint32_t slot, std::uint32_t generation) {
    return static_cast<std::uint64_t>(generation) << 32 | slot;
}

PlayOptions options_of(const mixer::PlayNumbers& numbers) {
    PlayOptions options;
    options.gain = numbers.gain;
    options.pitch = numbers.pitch;
    options.pan = numbers.pan;
    options.strength = numbers.strength;
    options.place = numbers.place;
    options.layer = numbers.layer;
    options.fade_in = Seconds(numbers.fade_in);
    options.start = Seconds(numbers.start);
    options.length = Seconds(numbers.length);
    if (numbers.turns != mixer::PlayNumbers::as_written) options.loop = numbers.turns;
    return options;
}

} // namespace

std::uint64_t TraceRecorder::number_of(std::uint32_t slot, std::uint32_t generation) {
    if (slot == mixer::no_handle) return 0;
    return number_of_.try_emplace(packed(slot, generation), number_of_.size() + 1).first->second;
}

TraceLine TraceRecorder::line_of(const Command& command) {
    TraceLine line;
    line.frame = std::max<Frames>(0, command.due - command.delay - since_);
    Report& report = line.report;
    report.kind = command.report;
    report.name = names_.text(command.name);
    report.other = names_.text(command.other);
    report.point = command.point;
    report.pointer = command.pointer;
    report.options = options_of(command.options);
    report.options.delay = Seconds(static_cast<double>(command.delay) / rate_);
    report.bus = names_.text(command.options.bus);
    report.value = static_cast<float>(command.value);
    report.pair = command.pair;
    report.over = Seconds(command.over);
    report.target = command.target;
    report.fade = Seconds(command.fade);
    for (const mixer::NamedNumber& value : command.values)
        if (value.name != model::no_name) report.values.push_back({names_.text(value.name), value.value});
    if (const std::uint64_t number = number_of(command.handle, command.generation)) report.pair = number;
    switch (report.kind) {
    case ReportKind::wind_down:
        report.over = report.fade;
        break;
    case ReportKind::play_stop:
        report.over = report.fade;
        break;
    case ReportKind::play_seek:
        report.options.start = Seconds(command.value);
        report.value = 0;
        break;
    case ReportKind::crossfade:
        report.from = names_.text(command.from);
        report.from_pair = number_of(command.with, command.with_generation);
        break;
    case ReportKind::counted:
        report.pointer = command.in_seconds ? 1 : 0;
        break;
    case ReportKind::playhead:
        for (const model::Motion& motion : editions_.read().plan.project().motions)
            if (command.in_seconds && motion.name == report.name)
                report.value = static_cast<float>(command.value * motion.rate);
        break;
    case ReportKind::body:
        if (command.over > 0) report.size = {2 * report.value, 2 * command.over};
        report.moment = Seconds(command.moment);
        break;
    default:
        break;
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
    read_served(); // the earlier ones
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
    model::sort_records(trace.lines, [](const TraceLine& a, const TraceLine& b) { return *a.frame < *b.frame; });
    return trace;
}

} // namespace kiai::engine
