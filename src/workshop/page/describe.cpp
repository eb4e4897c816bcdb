#include "workshop/page/describe.h"

#include "runtime/project/parse_toml.h"
#include "runtime/project/read_folder.h"
#include "workshop/check/waveform.h"
#include "workshop/rehearse/staging.h"

#include <kiai/keys.h>
#include <kiai/workshop/picture.h>

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <set>

namespace kiai::workshop {
namespace {

using Json = nlohmann::ordered_json;

double rounded(double value, double steps) {
    return std::isfinite(value) ? std::round(value * steps) / steps : 0;
}

/// Text from files may hold bytes that are no UTF-8.
std::string text_of(const Json& document) {
    return document.dump(-1, ' ', false, Json::error_handler_t::replace);
}

Json zones_of(const Project& project) {
    Json zones = Json::array();
    for (const ZoneOutline& outline : outlines_of(project)) {
        Json points = Json::array();
        for (const Point& point : outline.points) points.push_back({rounded(point.x, 100), rounded(point.y, 100)});
        const auto box = std::minmax_element(outline.points.begin(), outline.points.end(),
                                             [](const Point& a, const Point& b) { return a.y < b.y; });
        zones.push_back({{"name", outline.name},
                         {"scope", outline.scope},
                         {"order", outline.order},
                         {"top", outline.points.empty() ? 0 : rounded(box.first->y, 100)},
                         {"points", std::move(points)}});
    }
    return zones;
}

/// Returns the middles of all zones in kiai.toml, which a page needs to follow the zones that an app moves.
Json middles_of(const model::Project& project) {
    Json middles = Json::object();
    for (const model::Zone& zone : project.zones) {
        const model::Spot middle = model::box_of(zone.shape).middle();
        middles[zone.name] = {rounded(middle.x, 1000), rounded(middle.y, 1000)};
    }
    return middles;
}

/// Returns the values that a binding asks a trigger for: in its condition, and in the follows of what it plays.
std::set<std::string> values_of(const model::Project& project, const model::Binding& binding) {
    std::set<std::string> names;
    for (const model::Clause& clause : binding.when)
        if (clause.value == model::Value::own) names.insert(clause.name);
    for (const model::Action& action : binding.actions) {
        if (action.target != model::Target::sound || action.index < 0) continue;
        for (const model::Layer& layer : project.sounds[static_cast<std::size_t>(action.index)].layers)
            for (const model::Follow& follow : layer.follows)
                if (follow.value == model::Value::own) names.insert(follow.own);
    }
    return names;
}

Json bindings_of(const model::Project& project) {
    Json bindings = Json::array();
    for (std::size_t b = 0; b < project.bindings.size(); ++b) {
        const model::Binding& binding = project.bindings[b];
        const bool by_hand = !stage(project, binding, {}).lines.empty() && binding.trigger != ReportKind::start &&
                             binding.trigger != ReportKind::after && binding.trigger != ReportKind::every;
        const bool holds = std::any_of(binding.actions.begin(), binding.actions.end(),
                                       [](const model::Action& action) { return action.verb == Verb::hold; });
        std::string scope;
        if (binding.scope >= 0) scope = project.scopes[static_cast<std::size_t>(binding.scope)].name;
        bindings.push_back({{"number", b + 1},
                            {"kind", to_string(binding.trigger)},
                            {"on", binding.name},
                            {"trigger", model::trigger_text(binding)},
                            {"scope", scope},
                            {"holds", holds},
                            {"values", values_of(project, binding)},
                            {"by_hand", by_hand}});
    }
    return bindings;
}

/// From and to.
Json spread_of(const model::Spread& spread) {
    return {rounded(spread.from, 1000), rounded(spread.to, 1000)};
}

Json motions_of(const model::Project& project) {
    Json motions = Json::array();
    for (const model::Motion& motion : project.motions) {
        Json markers = Json::array();
        for (const model::Motion::Marker& marker : motion.markers)
            markers.push_back({{"name", marker.name}, {"frames", marker.places}});
        motions.push_back(
            {{"name", motion.name}, {"frames", motion.frames}, {"rate", motion.rate}, {"markers", markers}});
    }
    return motions;
}

Json tables_of(const Catalogue& catalogue) {
    Json entries = Json::array();
    for (const CatalogueEntry& entry : catalogue.entries) {
        Json details = Json::object();
        for (const auto& [name, value] : entry.details) {
            const std::string& column = name; // clang 14 captures no structured binding
            std::visit(
                [&](const auto& one) {
                    if constexpr (std::is_same_v<std::decay_t<decltype(one)>, double>)
                        details[column] = rounded(one, 1000);
                    else
                        details[column] = one;
                },
                value);
        }
        entries.push_back({{"kind", entry.kind},
                           {"name", entry.name},
                           {"state", entry.state},
                           {"line", entry.line},
                           {"details", std::move(details)}});
    }
    return entries;
}

Json findings_of(const std::vector<Finding>& findings) {
    Json all = Json::array();
    for (const Finding& finding : findings)
        all.push_back({{"severity", to_string(finding.severity)},
                       {"code", to_string(finding.code)},
                       {"line", finding.line},
                       {"message", finding.message},
                       {"fix", finding.fix}});
    return all;
}

Json json_of(const reader::Value& value) {
    using Kind = reader::Value::Kind;
    Json all;
    switch (value.kind) {
    case Kind::number:
        return value.number;
    case Kind::truth:
        return value.truth;
    case Kind::list:
        all = Json::array();
        for (const reader::Value& item : value.items) all.push_back(json_of(item));
        return all;
    case Kind::table:
        all = Json::object();
        for (const reader::Member& member : value.members) all[member.key] = json_of(member.value);
        return all;
    default:
        return value.text;
    }
}

/// Returns the kind of a field; empty: a page has none for this type.
const char* field_kind(Takes takes) {
    switch (takes) {
    case Takes::number:
    case Takes::whole:
        return "number";
    case Takes::spread:
        return "spread";
    case Takes::time:
        return "time";
    case Takes::word:
        return "word";
    case Takes::truth:
        return "truth";
    default:
        return "";
    }
}

/// The keys that a page has fields for, from the table that the reader uses.
Json fields_of() {
    const std::set<std::string> sections{"sound", "layer", "vary", "limit", "follow", "lfo", "bus", "zone"};
    Json fields = Json::object();
    for (const Key& key : project_keys()) {
        const std::string takes = field_kind(key.takes), section = key.parent;
        if (takes.empty() || !sections.contains(section)) continue;
        fields[section].push_back({{"name", key.name},
                                   {"takes", takes},
                                   {"low", key.low},
                                   {"high", key.high},
                                   {"unit", key.unit},
                                   {"default", key.default_value},
                                   {"choices", key.choices},
                                   {"description", key.description}});
    }
    return fields;
}

} // namespace

std::string describe_toml(const std::filesystem::path& folder) {
    const auto parsed = runtime::parse_toml(runtime::read_text(folder).text);
    const auto* root = std::get_if<reader::Value>(&parsed);
    return root ? text_of(json_of(*root)) : "{}";
}

std::string describe_edit(const EditResult& edited, const std::string& text, std::size_t steps) {
    Json changes = Json::array();
    for (const Change& change : edited.changes)
        changes.push_back({{"line", change.line}, {"before", change.before}, {"after", change.after}});
    return text_of({{"changes", changes}, {"remarks", edited.remarks}, {"text", text}, {"steps", steps}});
}

std::string describe_project(const PageProject& shown, const PageRights& rights, int rate) {
    const model::Project& data = shown.project.data();
    Json dials = Json::array(), scopes = Json::array(), buses = Json::array(), sounds = Json::array();
    for (const model::Dial& dial : data.dials)
        dials.push_back({{"name", dial.name}, {"start", dial.start}, {"low", dial.low}, {"high", dial.high}});
    for (const model::Scope& scope : data.scopes) scopes.push_back({{"name", scope.name}, {"on", scope.on}});
    for (const model::Bus& bus : data.buses)
        buses.push_back({{"name", bus.name},
                         {"into", bus.into < 0 ? "" : data.buses[static_cast<std::size_t>(bus.into)].name},
                         {"gain", bus.gain}});
    for (const model::Sound& sound : data.sounds)
        if (!sound.implied) {
            Json layers = Json::array();
            for (const model::Layer& layer : sound.layers)
                layers.push_back({{"label", layer.label},
                                  {"takes", layer.takes.size()},
                                  {"follows", !layer.follows.empty()},
                                  {"pitch", spread_of(layer.vary.pitch)},
                                  {"gain", spread_of(layer.vary.gain)},
                                  {"pan", spread_of(layer.vary.pan)}});
            sounds.push_back({{"name", sound.name}, {"layers", layers}, {"endless", sound.endless()}});
        }
    Json described{{"name", data.name},
                   {"file", data.file},
                   {"revision", shown.revision},
                   {"rate", rate},
                   {"reports", rights.reports},
                   {"records", rights.records},
                   {"edits", rights.edits},
                   {"picture", rights.picture},
                   {"zones", zones_of(shown.project)},
                   {"middles", middles_of(data)},
                   {"bindings", bindings_of(data)},
                   {"motions", motions_of(data)},
                   {"dials", dials},
                   {"scopes", scopes},
                   {"buses", buses},
                   {"sounds", sounds},
                   {"entries", tables_of(shown.catalogue)},
                   {"findings", findings_of(shown.findings)}};
    if (rights.edits) {
        described["text"] = shown.text_id;
        described["toml"] = Json::parse(shown.entries);
        described["fields"] = fields_of();
    }
    return text_of(described);
}

std::string describe_state(const Engine& engine, const Project& project) {
    const model::Project& data = project.data();
    Json dials = Json::object(), scopes = Json::object(), zones = Json::object(), buses = Json::array(),
         plays = Json::array();
    for (const model::Dial& dial : data.dials)
        if (const auto value = engine.dial(dial.name)) dials[dial.name] = rounded(*value, 1e4);
    for (const model::Scope& scope : data.scopes) scopes[scope.name] = to_string(engine.scope(scope.name));
    for (const model::Zone& zone : data.zones)
        if (const auto place = engine.zone(zone.name))
            zones[zone.name] = {rounded(place->middle.x, 100), rounded(place->middle.y, 100),
                                place->removed ? 0 : rounded(place->scale, 1000)};
    for (const model::Bus& bus : data.buses) {
        const BusLevel level = engine.bus_level(bus.name);
        buses.push_back({{"name", bus.name},
                         {"peak", rounded(level.peak, 1e5)},
                         {"loudness", rounded(level.short_term, 10)},
                         {"reduction", rounded(level.reduction, 10)},
                         {"gain", rounded(engine.bus_gain(bus.name), 100)},
                         {"muted", engine.bus_muted(bus.name)}});
    }
    for (const PlayingNow& one : engine.plays())
        plays.push_back({{"number", one.number},
                         {"bus", one.bus},
                         {"sound", one.sound},
                         {"state", to_string(one.state)},
                         {"elapsed", rounded(one.elapsed.count(), 100)}});
    Json timers = Json::array();
    for (const WaitingTimer& timer : engine.timers())
        timers.push_back(
            {{"binding", timer.binding}, {"left", rounded(timer.left.count(), 100)}, {"paused", timer.paused}});
    const Load load = engine.load();
    return text_of({{"now", engine.now()},
                    {"dials", dials},
                    {"scopes", scopes},
                    {"zones", zones},
                    {"buses", buses},
                    {"plays", plays},
                    {"timers", timers},
                    {"load",
                     {{"median", rounded(load.median, 1e4)},
                      {"worst", rounded(load.worst, 1e4)},
                      {"voices", load.voices},
                      {"most_voices", load.most_voices},
                      {"streams", load.streams},
                      {"most_streams", load.most_streams},
                      {"memory", load.memory}}}});
}

std::string describe_ducked(const std::map<std::string, DuckedBus>& ducked) {
    Json buses = Json::object();
    for (const auto& [bus, one] : ducked) buses[bus] = {{"under", one.under}, {"by", rounded(one.by, 10)}};
    return text_of(buses);
}

std::string describe_diagnosis(const Diagnosis& diagnosis) {
    Json chain = Json::array();
    for (const Diagnosis::Step& step : diagnosis.chain)
        chain.push_back({{"link", to_string(step.link)}, {"holds", step.holds}, {"detail", step.detail}});
    return text_of({{"subject", diagnosis.subject},
                    {"heard", diagnosis.heard()},
                    {"message", diagnosis.message()},
                    {"fix", diagnosis.fix},
                    {"line", diagnosis.line},
                    {"chain", chain}});
}

std::string describe_error(const std::string& message, const std::string& fix) {
    return message.empty() ? "{}" : text_of({{"message", message}, {"fix", fix}});
}

std::string quoted(const std::string& text) {
    return text_of(Json(text));
}

std::string describe_clip(const model::Clip& clip, const model::Audio& audio) {
    constexpr int columns_of_a_page = 240;
    Json columns = Json::array();
    for (const Column& column : waveform_of(audio, columns_of_a_page))
        columns.push_back(std::lround(std::max(column.peak, -90.0f)));
    return text_of({{"name", clip.name},
                    {"seconds", rounded(static_cast<double>(audio.frames) / audio.rate, 1e3)},
                    {"author", clip.credit.author},
                    {"licence", clip.credit.licence},
                    {"source", clip.credit.origin},
                    {"columns", columns}});
}

} // namespace kiai::workshop
