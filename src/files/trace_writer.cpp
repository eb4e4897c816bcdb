// Traces: what was reported as JSON Lines; cut and joined.
#include "files/atomic_write.h"

#include <kiai/trace.h>

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <ostream>
#include <sstream>

namespace kiai::inline v0 {
namespace {

using json = nlohmann::ordered_json;

/// A float as the shortest number that is it again.
double number(float value) {
    char text[32];
    for (int digits = 6; digits <= 9; ++digits) {
        std::snprintf(text, sizeof text, "%.*g", digits, static_cast<double>(value));
        if (std::strtof(text, nullptr) == value) break;
    }
    return std::strtod(text, nullptr);
}

json values_of(const std::vector<NamedValue>& values) {
    json all = json::object();
    for (const NamedValue& value : values) all[value.name] = number(value.value);
    return all;
}

void add_value(const Report& report, json& line) {
    const char* key = to_string(report.kind);
    switch (report.kind) {
    case ReportKind::press:
    case ReportKind::pointer:
        line[key] = {number(report.point.x), number(report.point.y)};
        break;
    case ReportKind::release:
    case ReportKind::pointer_gone:
    case ReportKind::input_lost:
        line[key] = true;
        break;
    case ReportKind::contact:
        line[key] = {report.name, report.other};
        if (report.pair != 0) line["pair"] = report.pair;
        break;
    case ReportKind::apart:
    case ReportKind::play_pause:
    case ReportKind::play_resume:
        line[key] = report.pair;
        break;
    case ReportKind::play_stop:
        line[key] = report.pair;
        if (report.over.count() >= 0) line["fade"] = number(static_cast<float>(report.over.count()));
        break;
    case ReportKind::play_gain:
        line[key] = report.pair;
        line["gain"] = number(report.value);
        break;
    case ReportKind::play_set:
        line[key] = report.pair;
        line["values"] = {{report.name, number(report.value)}};
        break;
    case ReportKind::bus_gain:
        line["over"] = number(static_cast<float>(report.over.count()));
        [[fallthrough]];
    case ReportKind::dial:
    case ReportKind::playhead:
        line[key] = {{report.name, number(report.value)}};
        break;
    case ReportKind::bus_mute:
        line[key] = {{report.name, report.value != 0}};
        break;
    case ReportKind::zone:
        line[key] = report.name;
        line["to"] = {number(report.point.x), number(report.point.y)};
        if (report.value != 1) line["scale"] = number(report.value);
        break;
    default:
        line[key] = report.name;
        if (!report.values.empty()) line["values"] = values_of(report.values);
        if (!report.other.empty()) line["scope"] = report.other;
        if (report.pair != 0) line["as"] = report.pair;
    }
}

json json_of(const TraceLine& line, int rate) {
    const Report& report = line.report;
    json out{{"frame", line.due(rate)}};
    add_value(report, out);
    if (report.pointer != 0) out["pointer-id"] = report.pointer;
    const PlayOptions& options = report.options;
    if (options.gain != 0 && report.kind != ReportKind::play_gain) out["gain"] = number(options.gain);
    if (options.pitch != 0) out["pitch"] = number(options.pitch);
    if (options.pan != 0) out["pan"] = number(options.pan);
    if (options.strength != 1) out["strength"] = number(options.strength);
    if (options.place != 0) out["place"] = number(options.place);
    if (options.after.count() > 0) out["after"] = options.after.count();
    return out;
}

/// What stays so until it is reported otherwise: a later one takes the place of an earlier.
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

void write_trace(std::ostream& out, const Trace& trace) {
    json head{{"trace", 1}, {"rate", trace.sample_rate}};
    if (trace.seed) head["seed"] = *trace.seed;
    out << head.dump() << '\n';
    for (const TraceLine& line : trace.lines)
        out << json_of(line, trace.sample_rate).dump(-1, ' ', false, json::error_handler_t::replace) << '\n';
}

std::string save_trace(const std::filesystem::path& file, const Trace& trace) {
    std::ostringstream text;
    write_trace(text, trace);
    return files::write_atomically(file, text.str());
}

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

Trace join(const Trace& first, const Trace& second, Seconds apart) {
    Trace both = first;
    const int rate = first.sample_rate;
    const Frames last = first.lines.empty() ? 0 : first.lines.back().due(rate);
    const double ratio = static_cast<double>(rate) / second.sample_rate;
    for (const TraceLine& line : second.lines) {
        TraceLine other = line;
        other.line = 0;
        other.frame = last + static_cast<Frames>(apart.count() * rate + 0.5) +
                      static_cast<Frames>(static_cast<double>(line.due(second.sample_rate)) * ratio + 0.5);
        both.lines.push_back(std::move(other));
    }
    return both;
}

} // namespace kiai::inline v0
