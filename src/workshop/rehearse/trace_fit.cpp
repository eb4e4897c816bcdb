// Compares a trace with a project, and finds names that the project does not have.
#include "core/model/near.h"
#include "core/model/project.h"
#include "core/reader/entry.h"

#include <kiai/workshop/trace.h>

#include <fmt/format.h>

#include <algorithm>
#include <set>

namespace kiai::inline v0 {
namespace {

template<class Entries>
std::vector<std::string> names_of(const Entries& entries) {
    std::vector<std::string> names;
    for (const auto& entry : entries) names.push_back(entry.name);
    return names;
}

/// What a report names, and the names of that kind in the project.
struct Named {
    std::string kind, name;
    std::vector<std::string> known;
};

Named named_by(const model::Project& project, const Report& report) {
    switch (report.kind) {
    case ReportKind::dial:
        return {"dial", report.name, names_of(project.dials)};
    case ReportKind::scope_enter:
    case ReportKind::scope_leave:
    case ReportKind::scope_pause:
    case ReportKind::scope_resume:
        return {"scope", report.name, names_of(project.scopes)};
    case ReportKind::zone:
    case ReportKind::zone_gone:
        return {"zone", report.name, names_of(project.zones)};
    case ReportKind::playhead:
    case ReportKind::playhead_gone:
        return {"motion", report.name, names_of(project.motions)};
    case ReportKind::bus_gain:
    case ReportKind::bus_mute:
        return {"bus", report.name, names_of(project.buses)};
    case ReportKind::run:
        return {"sequence", report.name, names_of(project.sequences)};
    case ReportKind::play:
    case ReportKind::crossfade:
    case ReportKind::toggle:
        return {"sound or clip", report.name, names_of(project.sounds)};
    case ReportKind::stop:
    case ReportKind::pause:
    case ReportKind::resume:
    case ReportKind::restart:
        switch (report.target) {
        case ActionTarget::bus:
            return {"bus", report.name, names_of(project.buses)};
        case ActionTarget::scope:
            return {"scope", report.name, names_of(project.scopes)};
        case ActionTarget::sequence:
            return {"sequence", report.name, names_of(project.sequences)};
        case ActionTarget::everything:
            return {};
        default:
            return {"sound or clip", report.name, names_of(project.sounds)};
        }
    case ReportKind::key_down:
    case ReportKind::notice:
    case ReportKind::contact: {
        Named named{std::string("binding of ") + to_string(report.kind),
                    report.other.empty() ? report.name : report.name + "+" + report.other,
                    {}};
        for (const model::Binding& binding : project.bindings) {
            if (binding.trigger != report.kind || binding.name.empty()) continue;
            named.known.push_back(binding.other.empty() ? binding.name : binding.name + "+" + binding.other);
            if (!binding.other.empty()) named.known.push_back(binding.other + "+" + binding.name);
        }
        return named;
    }
    default:
        return {};
    }
}

} // namespace

std::vector<Finding> check_trace(const Project& project, const Trace& trace, const std::string& file) {
    reader::Findings findings(file);
    std::set<std::string> said;
    for (const TraceLine& line : trace.lines) {
        if (line.report.kind == ReportKind::project && line.report.name != project.fingerprint())
            findings.add(FindingCode::trace_misfit, {line.line, 0},
                         "recorded from here with a different project (" + line.report.name + ")",
                         "record the trace again, because its decisions may differ", line.report.name);
        const Named named = named_by(project.data(), line.report);
        if (named.kind.empty() || std::find(named.known.begin(), named.known.end(), named.name) != named.known.end() ||
            !said.insert(named.kind + named.name).second)
            continue;
        const std::string near = model::nearest(named.name, named.known);
        findings.add(FindingCode::trace_misfit, {line.line, 0},
                     fmt::format("the project has no {} \"{}\"", named.kind, named.name),
                     near.empty() ? "it has no effect" : fmt::format("the nearest is \"{}\"", near), named.name);
    }
    return findings.take();
}

} // namespace kiai::inline v0
