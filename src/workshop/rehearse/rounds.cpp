#include "workshop/rehearse/rounds.h"

#include <fmt/format.h>

#include <algorithm>

namespace kiai::workshop {
namespace {

/// Returns a value of a dial that makes a watch false.
double resting(const model::Dial& dial, const model::Clause& clause) {
    for (const double value : {dial.start, dial.low, dial.high})
        if (!clause.holds(value)) return value;
    return dial.low;
}

/// Returns the reports that end a trigger, so that it can happen again.
std::vector<Report> endings(const model::Project& project, const model::Binding& binding) {
    Report report;
    report.name = binding.name;
    const auto one = [&](ReportKind kind) {
        report.kind = kind;
        return std::vector<Report>{report};
    };
    switch (binding.trigger) {
    case ReportKind::press:
        return one(ReportKind::release);
    case ReportKind::enter:
        return one(ReportKind::pointer_gone);
    case ReportKind::key_down:
        return one(ReportKind::key_up);
    case ReportKind::contact:
        report.pair = 1;
        return one(ReportKind::contact_end);
    case ReportKind::marker:
        return one(ReportKind::playhead_gone);
    case ReportKind::scope_enter:
        return one(ReportKind::scope_leave);
    case ReportKind::watch: {
        std::vector<Report> all;
        for (const model::Clause& clause : binding.watch) {
            const model::Dial& dial = project.dials[static_cast<std::size_t>(clause.dial)];
            report.kind = ReportKind::dial;
            report.name = dial.name;
            report.value = static_cast<float>(resting(dial, clause));
            all.push_back(report);
        }
        return all;
    }
    default:
        return {};
    }
}

} // namespace

std::string only_once(const model::Binding& binding) {
    const bool once = binding.trigger == ReportKind::start || binding.trigger == ReportKind::after;
    return once ? fmt::format("{} happens only once per engine", to_string(binding.trigger)) : "";
}

Rounds::Rounds(const model::Project& project, const model::Binding& binding, const FireSettings& settings, double apart)
    : lines_(stage(project, binding, settings).lines) {
    std::vector<double> moments; // of the staging, in order
    for (const TraceLine& line : lines_) moments.push_back(line.at);
    std::sort(moments.begin(), moments.end());
    moments.erase(std::unique(moments.begin(), moments.end()), moments.end());
    for (TraceLine& line : lines_)
        line.at = apart / 8 * static_cast<double>(std::find(moments.begin(), moments.end(), line.at) - moments.begin());
    for (Report& report : endings(project, binding)) lines_.push_back({apart / 2, std::nullopt, std::move(report)});
}

const std::vector<TraceLine>& Rounds::reports(int n) {
    for (TraceLine& line : lines_)
        if (line.report.pair != 0) line.report.pair = static_cast<std::uint64_t>(n) + 1;
    return lines_;
}

} // namespace kiai::workshop
