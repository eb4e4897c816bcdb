// Reads and writes traces as JSON Lines.
#include "core/model/near.h"
#include "core/reader/entry.h"
#include "core/reader/renamed.h"
#include "workshop/disk/atomic_write.h"
#include "workshop/rehearse/read_trace.h"

#include <kiai/workshop/trace.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <fstream>
#include <locale>
#include <ostream>
#include <sstream>

namespace kiai::inline v0 {
namespace {

using nlohmann::json;

constexpr double most_seconds = 1e6;
constexpr std::size_t most_line = 1 << 16;

/// Why a line is refused; thrown and caught within this file only.
struct Refused {
    std::string message, fix;
};

double number(const json& object, const char* key, double otherwise) {
    const auto found = object.find(key);
    if (found == object.end()) return otherwise;
    if (!found->is_number()) throw Refused{fmt::format("`{}` is not a number", key), "write it without quotes"};
    return found->get<double>();
}

float single(const json& object, const char* key, double otherwise) {
    return static_cast<float>(number(object, key, otherwise));
}

std::string name(const json& value, const char* key) {
    if (!value.is_string()) throw Refused{fmt::format("`{}` is not a name", key), "write the name in quotes"};
    return value.get<std::string>();
}

Point point(const json& value, const char* key) {
    if (!value.is_array() || value.size() != 2 || !value[0].is_number() || !value[1].is_number())
        throw Refused{fmt::format("`{}` is not a position", key), fmt::format("write \"{}\": [x, y]", key)};
    return {value[0].get<float>(), value[1].get<float>()};
}

/// Returns all kinds of report that an app may make.
std::vector<ReportKind> reported() {
    std::vector<ReportKind> kinds;
    for (int kind = 0; kind < static_cast<int>(ReportKind::enter); ++kind)
        kinds.push_back(static_cast<ReportKind>(kind));
    kinds.push_back(ReportKind::project); // the engine reports which project plays from there on
    return kinds;
}

std::uint64_t pair_number(const json& value, const char* key) {
    if (!value.is_number_unsigned() || value.get<std::uint64_t>() == 0)
        throw Refused{fmt::format("`{}` is not a whole number above 0", key),
                      "use a different number for each contact"};
    return value.get<std::uint64_t>();
}

/// Reads `{"fill": 0.85}`: one name with its value.
void read_named(const json& value, Report& report, const char* example) {
    const char* key = to_string(report.kind);
    if (!value.is_object() || value.size() != 1)
        throw Refused{fmt::format("`{}` is not one name with its value", key),
                      fmt::format("write \"{}\": {}", key, example)};
    report.name = value.begin().key();
    if (report.kind == ReportKind::bus_mute)
        report.value = value.begin()->is_boolean() && value.begin()->get<bool>() ? 1 : 0;
    else
        report.value = single(value, report.name.c_str(), 0);
}

/// Returns the key of the value that moves a play.
const char* moved_by(ReportKind kind) {
    return kind == ReportKind::play_gain ? "gain" : kind == ReportKind::play_pitch ? "pitch" : "pan";
}

/// Reads a sound's name, or `{"bus": "pieces"}`.
void read_target(const json& value, Report& report, const char* key, std::string& into) {
    if (value.is_string()) {
        into = value.get<std::string>();
        return;
    }
    if (value.is_object() && value.size() == 1)
        for (const ActionTarget target :
             {ActionTarget::bus, ActionTarget::scope, ActionTarget::sequence, ActionTarget::everything}) {
            if (value.begin().key() != to_string(target)) continue;
            report.target = target;
            if (target != ActionTarget::everything) into = name(*value.begin(), key);
            return;
        }
    throw Refused{fmt::format("`{}` names neither a sound nor a bus, scope, sequence or everything", key),
                  fmt::format(R"(write "{0}": "oak" or "{0}": {{"bus": "pieces"}})", key)};
}

void read_new_play(const json& object, const json& value, Report& report) {
    report.name = name(value, to_string(report.kind));
    if (const auto as = object.find("as"); as != object.end()) report.pair = pair_number(*as, "as");
    if (const auto scope = object.find("scope"); scope != object.end()) report.other = name(*scope, "scope");
    if (const auto bus = object.find("bus"); bus != object.end()) report.bus = name(*bus, "bus");
}

void read_value(const json& object, const json& value, Report& report) {
    const char* key = to_string(report.kind);
    switch (report.kind) {
    case ReportKind::press:
    case ReportKind::pointer:
        report.point = point(value, key);
        return;
    case ReportKind::release:
    case ReportKind::pointer_gone:
    case ReportKind::input_lost:
        return;
    case ReportKind::contact:
        if (!value.is_array() || value.size() != 2)
            throw Refused{"a contact needs two kinds of bodies", "write \"contact\": [\"marble\", \"oak\"]"};
        report.name = name(value[0], key);
        report.other = name(value[1], key);
        if (const auto pair = object.find("pair"); pair != object.end()) report.pair = pair_number(*pair, "pair");
        return;
    case ReportKind::body: {
        report.pair = pair_number(value, key);
        const auto kind = object.find("kind"), to = object.find("to"), size = object.find("size");
        if (kind == object.end() || to == object.end())
            throw Refused{"missing `kind` or `to`", "write \"kind\": \"marble\", \"to\": [x, y]"};
        report.name = name(*kind, "kind");
        report.point = point(*to, "to");
        report.value = single(object, "radius", 0);
        if (size != object.end()) report.size = point(*size, "size");
        if (object.contains("moment")) report.moment = Seconds(number(object, "moment", 0));
        return;
    }
    case ReportKind::body_gone:
    case ReportKind::contact_end:
        report.pair = pair_number(value, key);
        return;
    case ReportKind::dial:
        return read_named(value, report, "{\"fill\": 0.85}");
    case ReportKind::playhead:
        return read_named(value, report, "{\"paddle\": 12.5}");
    case ReportKind::bus_gain:
        report.over = Seconds(number(object, "over", 0.01));
        return read_named(value, report, "{\"pieces\": -6}");
    case ReportKind::bus_mute:
        return read_named(value, report, "{\"pieces\": true}");
    case ReportKind::play_stop:
        report.over = Seconds(number(object, "fade", -1));
        report.pair = pair_number(value, key);
        return;
    case ReportKind::play_gain:
    case ReportKind::play_pitch:
    case ReportKind::play_pan:
        report.value = single(object, moved_by(report.kind), 0);
        report.over = Seconds(number(object, "over", 0.01));
        report.pair = pair_number(value, key);
        return;
    case ReportKind::stop:
    case ReportKind::pause:
    case ReportKind::resume:
    case ReportKind::restart:
        report.fade = Seconds(number(object, "fade", -1));
        return read_target(value, report, key, report.name);
    case ReportKind::crossfade:
        report.fade = Seconds(number(object, "fade", 1));
        if (const auto from = object.find("from"); from != object.end()) {
            read_target(*from, report, "from", report.from);
        } else if (const auto play = object.find("from-play"); play != object.end()) {
            report.target = ActionTarget::none;
            report.from_pair = pair_number(*play, "from-play");
        } else {
            throw Refused{"missing `from`", "write \"from\": \"rain\""};
        }
        return read_new_play(object, value, report);
    case ReportKind::play_seek:
        report.pair = pair_number(value, key);
        return;
    case ReportKind::play_set: {
        report.pair = pair_number(value, key);
        const auto set = object.find("values");
        if (set == object.end() || !set->is_object() || set->size() != 1)
            throw Refused{"missing `values`", "write \"values\": {\"speed\": 2.3}"};
        report.name = set->begin().key();
        report.value = single(*set, report.name.c_str(), 0);
        return;
    }
    case ReportKind::play_pause:
    case ReportKind::play_resume:
        report.pair = pair_number(value, key);
        return;
    case ReportKind::wind_down:
        if (!value.is_number()) throw Refused{"`wind-down` is not a time", "write \"wind-down\": 0.2 (seconds)"};
        report.over = Seconds(value.get<double>());
        return;
    case ReportKind::counted:
        if (value.is_string())
            report.name = value.get<std::string>();
        else
            report.pair = pair_number(value, key);
        report.value = single(object, "times", 0);
        report.pointer = object.contains("acted") ? 1 : 0;
        if (const auto layers = object.find("layers"); layers != object.end()) {
            if (!layers->is_array() || layers->size() > 4)
                throw Refused{"`layers` is not a list of up to four numbers", "write \"layers\": [3, 2]"};
            for (const json& layer : *layers)
                report.values.push_back({report.name, layer.is_number() ? layer.get<float>() : 0.0f});
        }
        return;
    case ReportKind::zone:
        report.name = name(value, key);
        if (!object.contains("to")) throw Refused{"missing `to`", "write \"to\": [x, y]"};
        report.point = point(object["to"], "to");
        report.value = single(object, "scale", 1);
        return;
    case ReportKind::notice:
        report.name = name(value, key);
        if (const auto values = object.find("values"); values != object.end()) {
            if (!values->is_object()) throw Refused{"`values` is not an object", "write \"values\": {\"speed\": 2}"};
            for (const auto& [called, one] : values->items())
                report.values.push_back({called, single(*values, called.c_str(), 0)});
        }
        return;
    default:
        read_new_play(object, value, report);
    }
}

/// Refuses a line without a known report, and suggests the nearest.
[[noreturn]] void refuse_report(const json& object, const std::vector<std::string>& known) {
    std::string unknown;
    for (const auto& [name, value] : object.items()) {
        if (const std::string now = reader::renamed_report(name); !now.empty())
            throw Refused{fmt::format("`{}` is now called `{}`", name, now), fmt::format("write \"{}\" instead", now)};
        if (name == "at" || name == "frame") continue;
        if (const std::string near = model::nearest(name, known); !near.empty())
            throw Refused{fmt::format("unknown report `{}`", name), fmt::format("did you mean `{}`?", near)};
        unknown = name;
    }
    if (unknown.empty()) throw Refused{"the line has a time and no report", R"(write {"at": 1.5, "notice": "start"})"};
    throw Refused{fmt::format("unknown report `{}`", unknown), fmt::format("known: {}", fmt::join(known, ", "))};
}

Report report_of(const json& object) {
    Report report;
    const json* value = nullptr;
    std::vector<std::string> known;
    for (const ReportKind kind : reported()) {
        known.emplace_back(to_string(kind));
        const auto found = object.find(to_string(kind));
        if (found == object.end()) continue;
        if (value) throw Refused{"two reports in one line", "write one report per line"};
        report.kind = kind;
        value = &*found;
    }
    if (!value) refuse_report(object, known);
    read_value(object, *value, report);
    if (const auto pointer = object.find("pointer-id"); pointer != object.end()) {
        if (!pointer->is_number_unsigned())
            throw Refused{"`pointer-id` is not a whole number from 0", "use a different number for each pointer"};
        report.pointer = pointer->get<std::uint64_t>();
    }
    if (report.kind == ReportKind::play_gain || report.kind == ReportKind::play_pitch ||
        report.kind == ReportKind::play_pan)
        return report; // its number is no option
    report.options = {single(object, "gain", 0), single(object, "pitch", 0), single(object, "pan", 0),
                      single(object, "strength", 1), single(object, "place", 0)};
    report.options.delay = Seconds(number(object, "delay", 0));
    report.options.fade_in = Seconds(number(object, "fade-in", 0));
    report.options.start = Seconds(number(object, "start-at", 0));
    report.options.length = Seconds(number(object, "length", 0));
    if (object.contains("layer"))
        report.options.layer = static_cast<int>(std::clamp(number(object, "layer", 0), 0.0, 1e4));
    if (object.contains("loop"))
        report.options.loop = static_cast<int>(std::clamp(number(object, "loop", 0), 0.0, 1e6));
    return report;
}

void read_head(const json& object, Trace& trace) {
    if (number(object, "trace", 1) != 1)
        throw Refused{"unsupported version of a trace", "this version reads {\"trace\": 1}"};
    const double rate = number(object, "rate", 48000);
    if (!(rate >= 8000 && rate <= 192000) || rate != std::floor(rate))
        throw Refused{"unsupported `rate`", "write a rate from 8000 to 192000"};
    trace.sample_rate = static_cast<int>(rate);
    if (const auto seed = object.find("seed"); seed != object.end()) {
        if (!seed->is_number_unsigned()) throw Refused{"`seed` is not a whole number", "write \"seed\": 7"};
        trace.seed = seed->get<std::uint64_t>();
    }
}

void read_line(const std::string& text, int line_number, Trace& trace) {
    json object;
    try {
        object = json::parse(text);
    } catch (const json::exception& error) {
        throw Refused{"not valid JSON", "each line is one object in { }, with names and texts in double quotes"};
    }
    if (!object.is_object()) throw Refused{"not a JSON object", "each line is one object in { }"};
    if (object.contains("trace")) return read_head(object, trace);
    TraceLine line;
    line.line = line_number;
    if (object.contains("frame")) {
        const double frame = number(object, "frame", 0);
        if (!(frame >= 0 && frame <= most_seconds * 192000))
            throw Refused{"`frame` is out of range", "count frames from 0"};
        line.frame = static_cast<Frames>(frame);
    } else if (object.contains("at")) {
        line.at = number(object, "at", 0);
        if (!(line.at >= 0 && line.at <= most_seconds)) throw Refused{"`at` is out of range", "count seconds from 0"};
    } else {
        throw Refused{"missing time", "write \"at\" (seconds) or \"frame\""};
    }
    line.report = report_of(object);
    trace.lines.push_back(std::move(line));
}

} // namespace

Frames TraceLine::due(int rate) const noexcept {
    return frame ? *frame : static_cast<Frames>(std::floor(at * rate + 0.5));
}

namespace {

LoadedTrace parse_trace(std::istream& stream, const std::string& name) {
    LoadedTrace loaded;
    reader::Findings findings(name);
    constexpr int most_said = 5;
    int bad = 0;
    std::string text;
    for (int number = 1; std::getline(stream, text); ++number) {
        if (text.find_first_not_of(" \t\r") == std::string::npos) continue;
        try {
            if (text.size() > most_line)
                throw Refused{"the line is too long", "a trace is JSON Lines: one report per line"};
            read_line(text, number, loaded.trace);
        } catch (const Refused& refused) {
            if (++bad <= most_said)
                findings.add(FindingCode::trace_line, Severity::error, {number, 0}, refused.message, refused.fix);
        }
    }
    if (bad > most_said)
        findings.add(FindingCode::trace_line, Severity::error, {},
                     fmt::format("{} more lines cannot be read", bad - most_said), "use a file of JSON Lines");
    std::stable_sort(loaded.trace.lines.begin(), loaded.trace.lines.end(), [&](const TraceLine& a, const TraceLine& b) {
        return a.due(loaded.trace.sample_rate) < b.due(loaded.trace.sample_rate);
    });
    loaded.findings = findings.take();
    return loaded;
}

} // namespace

LoadedTrace load_trace(const std::filesystem::path& file) {
    std::ifstream stream(file, std::ios::binary);
    std::error_code error;
    if (stream && !std::filesystem::is_directory(file, error)) return parse_trace(stream, file.string());
    reader::Findings findings(file.string());
    findings.add(FindingCode::no_trace, Severity::error, {}, "the trace cannot be read", "use a file of JSON Lines");
    return {{}, findings.take()};
}

namespace {

using ordered = nlohmann::ordered_json;

/// Returns a float as the shortest number that reads back as the same float.
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

/// Writes a sound's name, or `{"bus": "pieces"}`.
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

namespace kiai::workshop {

LoadedTrace read_trace(std::istream& stream, const std::string& name) {
    return parse_trace(stream, name);
}

} // namespace kiai::workshop
