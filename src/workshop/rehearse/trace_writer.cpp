// Traces as JSON Lines: written.
#include "workshop/disk/atomic_write.h"

#include <kiai/workshop/trace.h>

#include <nlohmann/json.hpp>

#include <charconv>
#include <locale>
#include <ostream>
#include <sstream>

namespace kiai::inline v0 {
namespace {

using ordered = nlohmann::ordered_json;

/// A float as the shortest number that is it again.
double short_number(float value) {
    char text[32];
    double number = 0;
    std::from_chars(text, std::to_chars(text, text + sizeof text, value).ptr, number);
    return number;
}

ordered values_of(const std::vector<NamedValue>& values) {
    ordered all = ordered::object();
    for (const NamedValue& value : values) all[value.name] = short_number(value.value);
    return all;
}

/// A sound's name, or `{"bus": "pieces"}`.
ordered target_of(const Report& report, const std::string& name) {
    if (report.target == ActionTarget::sound) return name;
    if (report.target == ActionTarget::everything) return {{to_string(report.target), true}};
    return {{to_string(report.target), name}};
}

void add_new_play(const Report& report, ordered& line) {
    if (!report.other.empty()) line["scope"] = report.other;
    if (!report.bus.empty()) line["bus"] = report.bus;
    if (report.pair != 0) line["as"] = report.pair;
}

void add_value(const Report& report, ordered& line) {
    const char* key = to_string(report.kind);
    switch (report.kind) {
    case ReportKind::press:
    case ReportKind::pointer:
        line[key] = {short_number(report.point.x), short_number(report.point.y)};
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
    case ReportKind::body:
        line[key] = report.pair;
        line["kind"] = report.name;
        line["to"] = {short_number(report.point.x), short_number(report.point.y)};
        if (report.size.y > 0)
            line["size"] = {short_number(report.size.x), short_number(report.size.y)};
        else
            line["radius"] = short_number(report.value);
        if (report.moment) line["moment"] = report.moment->count();
        break;
    case ReportKind::body_gone:
    case ReportKind::contact_end:
    case ReportKind::play_pause:
    case ReportKind::play_resume:
    case ReportKind::play_seek:
        line[key] = report.pair;
        break;
    case ReportKind::wind_down:
        line[key] = report.over.count();
        break;
    case ReportKind::counted: {
        if (report.name.empty())
            line[key] = report.pair;
        else
            line[key] = report.name;
        line["times"] = short_number(report.value);
        if (report.pointer != 0) line["acted"] = true;
        if (report.values.empty()) break;
        ordered layers = ordered::array();
        for (const NamedValue& layer : report.values) layers.push_back(short_number(layer.value));
        line["layers"] = std::move(layers);
        break;
    }
    case ReportKind::play_stop:
        line[key] = report.pair;
        if (report.over.count() >= 0) line["fade"] = short_number(static_cast<float>(report.over.count()));
        break;
    case ReportKind::play_gain:
    case ReportKind::play_pitch:
    case ReportKind::play_pan:
        line[key] = report.pair;
        line[moved_by(report.kind)] = short_number(report.value);
        line["over"] = short_number(static_cast<float>(report.over.count()));
        break;
    case ReportKind::stop:
    case ReportKind::pause:
    case ReportKind::resume:
    case ReportKind::restart:
        line[key] = target_of(report, report.name);
        if (report.fade.count() >= 0) line["fade"] = short_number(static_cast<float>(report.fade.count()));
        break;
    case ReportKind::play_set:
        line[key] = report.pair;
        line["values"] = {{report.name, short_number(report.value)}};
        break;
    case ReportKind::bus_gain:
        line["over"] = short_number(static_cast<float>(report.over.count()));
        [[fallthrough]];
    case ReportKind::dial:
    case ReportKind::playhead:
        line[key] = {{report.name, short_number(report.value)}};
        break;
    case ReportKind::bus_mute:
        line[key] = {{report.name, report.value != 0}};
        break;
    case ReportKind::zone:
        line[key] = report.name;
        line["to"] = {short_number(report.point.x), short_number(report.point.y)};
        if (report.value != 1) line["scale"] = short_number(report.value);
        break;
    case ReportKind::crossfade:
        line[key] = report.name;
        if (report.from_pair != 0)
            line["from-play"] = report.from_pair;
        else
            line["from"] = target_of(report, report.from);
        line["fade"] = short_number(static_cast<float>(report.fade.count()));
        add_new_play(report, line);
        break;
    default:
        line[key] = report.name;
        if (!report.values.empty()) line["values"] = values_of(report.values);
        add_new_play(report, line);
    }
}

ordered json_of(const TraceLine& line, int rate) {
    const Report& report = line.report;
    ordered out{{"frame", line.due(rate)}};
    add_value(report, out);
    if (report.pointer != 0 && report.kind != ReportKind::counted) out["pointer-id"] = report.pointer;
    const PlayOptions& options = report.options;
    if (options.gain != 0) out["gain"] = short_number(options.gain);
    if (options.pitch != 0) out["pitch"] = short_number(options.pitch);
    if (options.pan != 0) out["pan"] = short_number(options.pan);
    if (options.strength != 1) out["strength"] = short_number(options.strength);
    if (options.place != 0) out["place"] = short_number(options.place);
    if (options.delay.count() > 0) out["delay"] = options.delay.count();
    if (options.fade_in.count() > 0) out["fade-in"] = options.fade_in.count();
    if (options.start.count() > 0) out["start-at"] = options.start.count();
    if (options.length.count() > 0) out["length"] = options.length.count();
    if (options.layer != 0) out["layer"] = options.layer;
    if (options.loop) out["loop"] = *options.loop;
    return out;
}

} // namespace

void write_trace(std::ostream& out, const Trace& trace) {
    ordered head{{"trace", 1}, {"rate", trace.sample_rate}};
    if (trace.seed) head["seed"] = *trace.seed;
    out << head.dump() << '\n';
    for (const TraceLine& line : trace.lines)
        out << json_of(line, trace.sample_rate).dump(-1, ' ', false, ordered::error_handler_t::replace) << '\n';
}

std::string save_trace(const std::filesystem::path& file, const Trace& trace) {
    std::ostringstream text;
    write_trace(text, trace);
    return workshop::write_atomically(file, text.str());
}

} // namespace kiai::inline v0
