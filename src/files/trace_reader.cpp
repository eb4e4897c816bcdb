// Traces: JSON Lines in, events out.
#include "files/entry.h"

#include <kiai/trace.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <fstream>

namespace kiai::inline v0 {
namespace {

using nlohmann::json;

constexpr double most_seconds = 1e6;
constexpr std::size_t most_line = 1 << 16;

/// Why a line cannot be used; thrown and caught within this file only.
struct Refused {
    std::string sentence, mend;
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
        throw Refused{fmt::format("`{}` is not a place", key), fmt::format("write \"{}\": [x, y]", key)};
    return {value[0].get<float>(), value[1].get<float>()};
}

constexpr ReportKind kinds[] = {ReportKind::press,  ReportKind::release, ReportKind::key_down,
                                ReportKind::key_up, ReportKind::contact, ReportKind::notice,
                                ReportKind::play,   ReportKind::stop,    ReportKind::dial};

Report report_of(const json& object) {
    Report report;
    const json* value = nullptr;
    for (const ReportKind kind : kinds) {
        const auto found = object.find(to_string(kind));
        if (found == object.end()) continue;
        if (value) throw Refused{"it holds two reports", "write one report a line"};
        report.kind = kind;
        value = &*found;
    }
    if (!value) {
        std::string known;
        for (const ReportKind kind : kinds) known += std::string(known.empty() ? "" : ", ") + to_string(kind);
        throw Refused{"it holds no report that is known", "known: " + known};
    }
    const char* key = to_string(report.kind);
    switch (report.kind) {
    case ReportKind::press:
        report.point = point(*value, key);
        break;
    case ReportKind::release:
        break;
    case ReportKind::contact:
        if (!value->is_array() || value->size() != 2)
            throw Refused{"a contact is between two kinds of body", "write \"contact\": [\"marble\", \"oak\"]"};
        report.name = name((*value)[0], key);
        report.other = name((*value)[1], key);
        break;
    case ReportKind::dial:
        if (!value->is_object() || value->size() != 1)
            throw Refused{"`dial` is not one dial with its value", "write \"dial\": {\"fill\": 0.85}"};
        report.name = value->begin().key();
        report.value = single(*value, report.name.c_str(), 0);
        break;
    default:
        report.name = name(*value, key);
    }
    report.pointer = static_cast<int>(std::clamp(number(object, "pointer-id", 0), -1.0, 1000.0));
    report.options = {single(object, "gain", 0), single(object, "pitch", 0), single(object, "pan", 0),
                      single(object, "strength", 1), single(object, "place", 0)};
    return report;
}

void read_head(const json& object, Trace& trace) {
    if (number(object, "trace", 1) != 1)
        throw Refused{"it is of a later kind of trace", "this version reads {\"trace\": 1}"};
    const double rate = number(object, "rate", 48000);
    if (!(rate >= 8000 && rate <= 192000) || rate != std::floor(rate))
        throw Refused{"its `rate` cannot be rendered", "write a rate from 8000 to 192000"};
    trace.sample_rate = static_cast<int>(rate);
    if (const auto seed = object.find("seed"); seed != object.end()) {
        if (!seed->is_number_unsigned()) throw Refused{"its `seed` is not a whole number", "write \"seed\": 7"};
        trace.seed = seed->get<std::uint64_t>();
    }
}

void read_line(const std::string& text, Trace& trace) {
    json object;
    try {
        object = json::parse(text);
    } catch (const json::exception& error) {
        throw Refused{"it is not JSON", "each line is one object in { }, with names and texts in double quotes"};
    }
    if (!object.is_object()) throw Refused{"it is not an object", "each line is one object in { }"};
    if (object.contains("trace")) return read_head(object, trace);
    TraceLine line;
    if (object.contains("frame")) {
        const double frame = number(object, "frame", 0);
        if (!(frame >= 0 && frame <= most_seconds * 192000))
            throw Refused{"its `frame` is out of range", "count frames from 0"};
        line.frame = static_cast<Frames>(frame);
    } else if (object.contains("at")) {
        line.at = number(object, "at", 0);
        if (!(line.at >= 0 && line.at <= most_seconds))
            throw Refused{"its `at` is out of range", "count seconds from 0"};
    } else {
        throw Refused{"it has no time", "write \"at\" (seconds) or \"frame\""};
    }
    line.report = report_of(object);
    trace.lines.push_back(std::move(line));
}

} // namespace

Frames TraceLine::due(int rate) const noexcept {
    return frame ? *frame : static_cast<Frames>(std::floor(at * rate + 0.5));
}

LoadedTrace load_trace(const std::filesystem::path& file) {
    LoadedTrace loaded;
    files::Findings findings(file.string());
    std::ifstream stream(file, std::ios::binary);
    std::error_code error;
    if (!stream || std::filesystem::is_directory(file, error)) {
        findings.add(FindingCode::no_trace, Severity::error, {}, "the trace cannot be read",
                     "give a file of JSON Lines");
        return {{}, findings.take()};
    }
    std::string text;
    for (int number = 1; std::getline(stream, text); ++number) {
        if (text.find_first_not_of(" \t\r") == std::string::npos) continue;
        try {
            if (text.size() > most_line)
                throw Refused{"the line is too long", "a trace is JSON Lines: one report a line"};
            read_line(text, loaded.trace);
        } catch (const Refused& refused) {
            findings.add(FindingCode::trace_line, Severity::error, {number, 0}, refused.sentence, refused.mend);
        }
    }
    std::stable_sort(loaded.trace.lines.begin(), loaded.trace.lines.end(), [&](const TraceLine& a, const TraceLine& b) {
        return a.due(loaded.trace.sample_rate) < b.due(loaded.trace.sample_rate);
    });
    loaded.findings = findings.take();
    return loaded;
}

} // namespace kiai::inline v0
