// Writes and reads the decision log as JSON Lines.
#include "core/reader/entry.h"
#include "core/reader/renamed.h"
#include "workshop/rehearse/log_line.h"

#include <kiai/workshop/log.h>
#include <kiai/workshop/rehearse.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <limits>
#include <utility>

namespace kiai::inline v0 {
namespace {

using json = nlohmann::ordered_json;

constexpr int log_version = 1; ///< of the names and meanings of its fields

/// Rounds a number to `digits`, to remove a float's noise.
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
    if (decision.action) {
        const ActionTaken& action = *decision.action;
        line["action"] = {{"verb", to_string(action.verb)}, {"target", to_string(action.target)}};
        if (!action.name.empty()) line["action"]["name"] = action.name;
        if (action.verb == Verb::set) line["action"]["number"] = rounded(action.number, 6);
    }
    if (decision.outcome == Outcome::not_met) {
        line["rule"] = decision.rule;
        if (std::isfinite(decision.value)) line["value"] = rounded(decision.value, 6);
    }
    const bool of_play = decision.trigger >= ReportKind::play_stop && decision.trigger <= ReportKind::play_seek &&
                         decision.outcome == Outcome::done;
    if (decision.trigger == ReportKind::bus_gain || decision.trigger == ReportKind::bus_mute || of_play)
        line["value"] = rounded(decision.value, 4);
    if (!decision.bus.empty()) {
        line["bus"] = decision.bus;
        if (!decision.under.empty()) line["under"] = decision.under;
        if (decision.outcome == Outcome::insert_off) line["rule"] = decision.rule;
        if (decision.outcome == Outcome::ducked || decision.outcome == Outcome::insert_slow)
            line["value"] = rounded(decision.value, 4);
    }
    if (decision.limit) {
        const LimitReached& limit = *decision.limit;
        line["limit"] = {{"kind", to_string(limit.kind)}};
        if (!limit.name.empty()) line["limit"]["name"] = limit.name;
        line["limit"].update({{"full", to_string(limit.full)},
                              {"measured", rounded(limit.measured, 6)},
                              {"allowed", rounded(limit.allowed, 6)}});
    }
    if (decision.excluded) line["excluded"] = true;
    for (const LayerTake& layer : decision.layers) {
        line["layers"].push_back({{"clip", layer.clip},
                                  {"take", layer.number},
                                  {"of", layer.of},
                                  {"pitch", rounded(layer.pitch, 4)},
                                  {"gain", rounded(layer.gain, 4)},
                                  {"pan", rounded(layer.pan, 4)}});
        if (!layer.label.empty()) line["layers"].back()["label"] = layer.label;
        if (layer.delay > 0) line["layers"].back()["delay"] = layer.delay;
        if (layer.layer != static_cast<int>(line["layers"].size())) line["layers"].back()["layer"] = layer.layer;
    }
    if (decision.outcome == Outcome::ended)
        line.update({{"reason", to_string(decision.reason)},
                     {"level", rounded(decision.level, 2)},
                     {"length", decision.length},
                     {"counted", decision.counted}});
    if (decision.ended_by > 0) line["by"] = decision.ended_by;
    if (decision.count > 0) line["count"] = decision.count;
    if (!decision.nearest.empty()) line["nearest"] = decision.nearest;
    return line;
}

/// Reads a word of an enumeration, from its first value to `last`.
template<class Word>
bool find_word(const std::string& text, Word last, Word& word) {
    for (int i = 0; i <= static_cast<int>(last); ++i)
        if (text == to_string(static_cast<Word>(i))) {
            word = static_cast<Word>(i);
            return true;
        }
    return false;
}

/// Reads a field into a member. A missing field, or one of another type, leaves the member unchanged.
template<class Value>
void take(const json& line, const char* key, Value& value) {
    const auto found = line.find(key);
    if (found == line.end()) return;
    if constexpr (std::is_same_v<Value, std::string>) {
        if (found->is_string()) value = found->get<std::string>();
    } else if constexpr (std::is_floating_point_v<Value>) {
        if (found->is_number()) value = static_cast<Value>(std::clamp(found->template get<double>(), -1e30, 1e30));
    } else if (found->is_number_unsigned()
                   ? std::in_range<Value>(found->template get<std::uint64_t>())
                   : found->is_number_integer() && std::in_range<Value>(found->template get<std::int64_t>())) {
        value = found->get<Value>();
    }
}

LayerTake layer_of(const json& line, int number) {
    LayerTake layer;
    layer.layer = number;
    take(line, "layer", layer.layer);
    take(line, "label", layer.label);
    take(line, "clip", layer.clip);
    take(line, "take", layer.number);
    take(line, "of", layer.of);
    take(line, "pitch", layer.pitch);
    take(line, "gain", layer.gain);
    take(line, "pan", layer.pan);
    take(line, "delay", layer.delay);
    return layer;
}

/// Returns false if the line is no decision.
bool read_decision(const json& line, Decision& decision) {
    if (!line.is_object()) return false;
    std::string word;
    take(line, "decision", word);
    if (!line.contains("frame") || !find_word(word, Outcome::log_full, decision.outcome)) return false;
    take(line, "frame", decision.frame);
    take(line, "cause", decision.cause);
    take(line, "from", decision.from);
    word.clear();
    take(line, "trigger", word);
    find_word(word, ReportKind::last, decision.trigger);
    take(line, "on", decision.on);
    if (const auto point = line.find("point"); point != line.end() && point->is_array() && point->size() == 2 &&
                                               (*point)[0].is_number() && (*point)[1].is_number())
        decision.point = {(*point)[0].get<float>(), (*point)[1].get<float>()};
    take(line, "binding", decision.binding);
    take(line, "sound", decision.sound);
    take(line, "play", decision.play);
    take(line, "for", decision.other);
    if (const auto action = line.find("action"); action != line.end() && action->is_object()) {
        ActionTaken& taken = decision.action.emplace();
        word.clear();
        take(*action, "verb", word);
        find_word(word, Verb::nothing, taken.verb);
        word.clear();
        take(*action, "target", word);
        find_word(word, ActionTarget::notice, taken.target);
        take(*action, "name", taken.name);
        take(*action, "number", taken.number);
    }
    if (const auto of = line.find("limit"); of != line.end() && of->is_object()) {
        LimitReached& limit = decision.limit.emplace();
        word.clear();
        take(*of, "kind", word);
        find_word(word, LimitReached::Kind::engine, limit.kind);
        take(*of, "name", limit.name);
        word.clear();
        take(*of, "full", word);
        find_word(word, WhenFull::stronger_contact, limit.full);
        take(*of, "measured", limit.measured);
        take(*of, "allowed", limit.allowed);
    }
    if (const auto excluded = line.find("excluded"); excluded != line.end() && excluded->is_boolean())
        decision.excluded = excluded->get<bool>();
    take(line, "rule", decision.rule);
    if (decision.outcome == Outcome::not_met) decision.value = std::numeric_limits<float>::quiet_NaN();
    take(line, "value", decision.value);
    take(line, "bus", decision.bus);
    take(line, "under", decision.under);
    if (const auto layers = line.find("layers"); layers != line.end() && layers->is_array())
        for (const json& layer : *layers)
            decision.layers.push_back(layer_of(layer, static_cast<int>(decision.layers.size()) + 1));
    word.clear();
    take(line, "reason", word);
    find_word(word, EndReason::changed, decision.reason);
    take(line, "by", decision.ended_by);
    take(line, "level", decision.level);
    take(line, "length", decision.length);
    decision.counted = decision.length; // of a log that does not say so
    take(line, "counted", decision.counted);
    take(line, "count", decision.count);
    take(line, "nearest", decision.nearest);
    return true;
}

} // namespace

std::function<void(const Decision&)> jsonl_log(std::ostream& out, int sample_rate) {
    out << json{{"log", log_version}, {"rate", sample_rate}}.dump() << '\n';
    return [&out, sample_rate](const Decision& decision) { out << workshop::log_line(decision, sample_rate) << '\n'; };
}

void write_log(std::ostream& out, const Rehearsal& rehearsal) {
    const auto write = jsonl_log(out, rehearsal.sample_rate);
    for (const Decision& decision : rehearsal.decisions) write(decision);
}

LoadedLog load_log(const std::filesystem::path& file) {
    LoadedLog loaded;
    reader::Findings findings(file.string());
    std::ifstream in(file);
    if (!in) {
        findings.add(FindingCode::no_log, {}, "missing log, or no permission to read it",
                     "run kiai rehearse PROJECT TRACE --log log.jsonl", {});
        loaded.findings = findings.take();
        return loaded;
    }
    Rehearsal& rehearsal = loaded.rehearsal;
    int number = 0;
    for (std::string text; std::getline(in, text);) {
        ++number;
        if (text.find_first_not_of(" \t\r") == std::string::npos) continue;
        const json line = json::parse(text, nullptr, false);
        if (int written = 0; line.is_object() && line.contains("log")) {
            take(line, "log", written);
            take(line, "rate", rehearsal.sample_rate);
            if (written == log_version && rehearsal.sample_rate >= 8000 && rehearsal.sample_rate <= 192000) continue;
            findings.add(FindingCode::no_log, {number, 1}, "the log is of another version, or its rate is invalid",
                         "write the log again with this version of Kiai", {});
            loaded.findings = findings.take();
            loaded.rehearsal = {};
            return loaded;
        }
        Decision decision;
        decision.sample_rate = rehearsal.sample_rate;
        if (!read_decision(line, decision)) {
            std::string word;
            if (line.is_object()) take(line, "decision", word);
            const std::string now = reader::renamed_report(word);
            findings.add(FindingCode::log_line, {number, 1},
                         line.is_discarded() ? "not valid JSON"
                         : now.empty()       ? "not a decision"
                                             : fmt::format("the decision `{}` is now called `{}`", word, now),
                         now.empty() ? "each line needs `frame` and `decision`, see docs/log.md"
                                     : "write the log again with this version of Kiai",
                         {});
            continue;
        }
        rehearsal.length = std::max(rehearsal.length, decision.frame);
        rehearsal.decisions.push_back(std::move(decision));
    }
    loaded.findings = findings.take();
    return loaded;
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

namespace kiai::workshop {

std::string log_line(const Decision& decision, int rate) {
    return to_json(decision, rate).dump(-1, ' ', false, json::error_handler_t::replace);
}

} // namespace kiai::workshop
