// The decision log as JSON Lines.
#include <kiai/log.h>
#include <kiai/rehearse.h>

#include <nlohmann/json.hpp>

#include <cmath>
#include <istream>
#include <ostream>

namespace kiai::inline v0 {
namespace {

using json = nlohmann::ordered_json;

/// Numbers as people want to read them: a float's noise beyond `digits` is left off.
double rounded(double value, int digits) {
    const double scale = std::pow(10, digits);
    const double result = std::round(value * scale) / scale;
    return result == 0 ? 0 : result;
}

json to_json(const Decision& decision, int rate) {
    json line{{"frame", decision.frame},
              {"at", rounded(static_cast<double>(decision.frame) / rate, 6)},
              {"decision", to_string(decision.outcome)}};
    if (decision.cause > 0)
        line.update({{"cause", decision.cause}, {"trigger", to_string(decision.trigger)}, {"on", decision.on}});
    if (decision.trigger == ReportKind::press && decision.cause > 0 && decision.outcome != Outcome::ended)
        line["point"] = {rounded(decision.point.x, 3), rounded(decision.point.y, 3)};
    if (decision.from > 0) line["from"] = decision.from;
    if (decision.binding > 0) line["binding"] = decision.binding;
    if (!decision.sound.empty()) line["sound"] = decision.sound;
    if (decision.play > 0) line["play"] = decision.play;
    if (decision.other > 0) line["for"] = decision.other;
    if (!decision.action.empty()) line["action"] = decision.action;
    if (decision.outcome == Outcome::not_met) {
        line["rule"] = decision.rule;
        if (std::isfinite(decision.value)) line["value"] = rounded(decision.value, 6);
    }
    if (!decision.limit.empty()) line.update({{"limit", decision.limit}, {"rule", decision.rule}});
    for (const LayerTake& layer : decision.layers) {
        line["layers"].push_back({{"clip", layer.clip},
                                  {"take", layer.number},
                                  {"of", layer.of},
                                  {"pitch", rounded(layer.pitch, 4)},
                                  {"gain", rounded(layer.gain, 4)},
                                  {"pan", rounded(layer.pan, 4)}});
        if (layer.delay > 0) line["layers"].back()["delay"] = layer.delay;
    }
    if (decision.outcome == Outcome::ended)
        line.update({{"reason", to_string(decision.reason)},
                     {"level", rounded(decision.level, 2)},
                     {"length", decision.length}});
    if (decision.ended_by > 0) line["by"] = decision.ended_by;
    if (decision.count > 0) line["count"] = decision.count;
    if (!decision.nearest.empty()) line["nearest"] = decision.nearest;
    return line;
}

} // namespace

std::function<void(const Decision&)> log_lines(std::ostream& out, int sample_rate) {
    return [&out, sample_rate](const Decision& decision) {
        out << to_json(decision, sample_rate).dump(-1, ' ', false, json::error_handler_t::replace) << '\n';
    };
}

void write_log(std::ostream& out, const Rehearsal& rehearsal) {
    const auto write = log_lines(out, rehearsal.sample_rate);
    for (const Decision& decision : rehearsal.decisions) write(decision);
}

std::set<int> bindings_in_log(std::istream& log) {
    std::set<int> bindings;
    for (std::string line; std::getline(log, line);) {
        const json decision = json::parse(line, nullptr, false);
        if (decision.is_object() && decision.contains("binding") && decision["binding"].is_number_integer())
            bindings.insert(decision["binding"].get<int>());
    }
    return bindings;
}

} // namespace kiai::inline v0
