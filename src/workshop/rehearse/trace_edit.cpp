// Cuts and joins traces.
#include <kiai/workshop/trace.h>

#include <algorithm>

namespace kiai::inline v0 {
namespace {

/// Identifies a state that lasts until a later report replaces it.
std::string state_of(const Report& report) {
    switch (report.kind) {
    case ReportKind::scope_enter:
    case ReportKind::scope_leave:
        return "scope " + report.name;
    case ReportKind::scope_pause:
    case ReportKind::scope_resume:
        return "scope-pause " + report.name;
    case ReportKind::zone:
    case ReportKind::zone_gone:
        return "zone " + report.name;
    case ReportKind::dial:
    case ReportKind::bus_gain:
    case ReportKind::bus_mute:
        return to_string(report.kind) + (" " + report.name);
    default:
        return {};
    }
}

TraceLine moved(const TraceLine& line, int rate, Frames by) {
    TraceLine other = line;
    other.frame = std::max<Frames>(0, line.due(rate) + by);
    other.line = 0;
    return other;
}

} // namespace

Trace cut(const Trace& trace, Seconds from, Seconds to) {
    const int rate = trace.sample_rate;
    const auto begin = static_cast<Frames>(from.count() * rate + 0.5),
               end = static_cast<Frames>(to.count() * rate + 0.5);
    Trace part{rate, trace.seed, {}};
    std::vector<std::pair<std::string, const TraceLine*>> states; // in the order in which they were reported last
    for (const TraceLine& line : trace.lines) {
        const Frames due = line.due(rate);
        if (due < begin) {
            const std::string state = state_of(line.report);
            if (state.empty()) continue;
            std::erase_if(states, [&](const auto& one) { return one.first == state; });
            states.emplace_back(state, &line);
        } else if (end == 0 || due < end) {
            part.lines.push_back(moved(line, rate, -begin));
        }
    }
    std::vector<TraceLine> first;
    for (const auto& [state, line] : states) {
        first.push_back(moved(*line, rate, 0));
        first.back().frame = 0;
    }
    part.lines.insert(part.lines.begin(), first.begin(), first.end());
    return part;
}

Trace join(const Trace& first, const Trace& second, Seconds interval) {
    Trace both = first;
    const int rate = first.sample_rate;
    const Frames last = first.lines.empty() ? 0 : first.lines.back().due(rate);
    const double ratio = static_cast<double>(rate) / second.sample_rate;
    for (const TraceLine& line : second.lines) {
        TraceLine other = line;
        other.line = 0;
        other.frame = last + static_cast<Frames>(interval.count() * rate + 0.5) +
                      static_cast<Frames>(static_cast<double>(line.due(second.sample_rate)) * ratio + 0.5);
        both.lines.push_back(std::move(other));
    }
    return both;
}

} // namespace kiai::inline v0
