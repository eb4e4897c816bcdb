// The table of keys as a JSON schema, and as the reference page.
#include "keys_out.h"

#include <kiai/keys.h>
#include <kiai/workshop/expect.h>
#include <kiai/workshop/log.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <ostream>
#include <sstream>
#include <string_view>

namespace kiai::tool {
namespace {

using json = nlohmann::ordered_json;

std::vector<std::string> words_of(const Key& key) {
    std::vector<std::string> words;
    std::istringstream all(key.choices);
    for (std::string one; std::getline(all, one, '|');) words.push_back(one);
    return words;
}

json reference(const std::string& section) {
    return {{"$ref", "#/$defs/" + section}};
}

json of_number(const Key& key) {
    json number{{"type", "number"}, {"minimum", key.low}, {"maximum", key.high}};
    const std::string unit = key.unit;
    if (unit != "dB" && unit != "parts of 1") return number;
    const char* form = unit == "dB" ? R"(^\s*[+-]?[0-9]+(\.[0-9]+)?\s*(dB|%)\s*$)" : R"(^\s*[0-9]+(\.[0-9]+)?\s*%\s*$)";
    return {{"anyOf", {number, {{"type", "string"}, {"pattern", form}}}}};
}

json of_time() {
    return {{"type", "string"}, {"pattern", R"(^\s*[0-9]+(\.[0-9]+)?\s*(ms|s|frames?)\s*$)"}};
}

json pair_of(const json& one) {
    return {{"type", "array"}, {"items", one}, {"minItems", 2}, {"maxItems", 2}};
}

json schema_of(const Key& key) {
    const std::string of = key.section, name = key.name;
    const auto either = [](json one, json other) { return json{{"anyOf", {std::move(one), std::move(other)}}}; };
    const auto list = [](json items) { return json{{"type", "array"}, {"items", std::move(items)}}; };
    switch (key.takes) {
    case Takes::text:
        return {{"type", "string"}};
    case Takes::truth:
        return {{"type", "boolean"}};
    case Takes::number:
        return of_number(key);
    case Takes::whole:
        return {{"type", "integer"}, {"minimum", key.low}, {"maximum", key.high}};
    case Takes::time:
        return of_time();
    case Takes::word:
        return {{"enum", words_of(key)}};
    case Takes::spread:
        return either(of_number(key), pair_of(of_number(key)));
    case Takes::times:
        return either(of_time(), pair_of(of_time()));
    case Takes::names:
        return either(list(either({{"type", "string"}}, reference(of))), reference("series"));
    case Takes::points:
        return list({{"type", "array"}, {"minItems", 2}, {"maxItems", 2}});
    case Takes::pair:
        return pair_of({{"type", json::array({"string", "number"})}});
    case Takes::table: {
        if (std::string_view(key.parent) != "project") return reference(of);
        const json entry = name == "clip" ? either({{"type", "string"}}, reference(of)) : reference(of);
        return {{"type", "object"}, {"additionalProperties", entry}};
    }
    case Takes::entries:
        return {{"type", "object"}, {"additionalProperties", reference(of)}};
    case Takes::tables:
        return list(reference(of));
    case Takes::loop:
        return either({{"type", "boolean"}}, reference(of));
    case Takes::actions:
        return either(reference(of), list(reference(of)));
    case Takes::lists:
        return list(list(reference(of)));
    case Takes::places: {
        const json place{{"type", "number"}, {"minimum", key.low}, {"maximum", key.high}};
        return {{"type", "object"}, {"additionalProperties", either(place, list(place))}};
    }
    case Takes::target:
        return either({{"type", "string"}}, of.empty() ? json{{"type", "boolean"}} : reference(of));
    }
    return json::object();
}

std::vector<std::string> sections(const Keys& keys) {
    std::vector<std::string> all;
    for (const Key& key : keys)
        if (std::find(all.begin(), all.end(), key.parent) == all.end()) all.emplace_back(key.parent);
    return all;
}

json object_of(const Keys& keys, const std::string& section) {
    json properties = json::object();
    json needed = json::array();
    for (const Key& key : keys) {
        // A sound with one layer has that layer's keys itself.
        const bool own = key.parent == section;
        if (!own && !(section == "sound" && std::string_view(key.parent) == "layer")) continue;
        if (!own && properties.contains(key.name)) continue;
        properties[key.name] = schema_of(key);
        properties[key.name]["description"] = key.description;
        const bool may_be_pending = section == "clip" || section == "sound" || section == "series";
        if (own && std::string_view(key.default_value) == "needed" && !may_be_pending) needed.push_back(key.name);
    }
    if (section == "step") // a step may be an action
        for (const Key& key : keys)
            if (std::string_view(key.parent) == "action") {
                properties[key.name] = schema_of(key);
                properties[key.name]["description"] = key.description;
            }
    json object{{"type", "object"}, {"properties", std::move(properties)}, {"additionalProperties", false}};
    if (!needed.empty()) object["required"] = std::move(needed);
    return object;
}

std::string what_it_takes(const Key& key) {
    const std::string unit = *key.unit ? fmt::format(" {}", key.unit) : "";
    const std::string range = fmt::format("{:g} to {:g}{}", key.low, key.high, unit);
    switch (key.takes) {
    case Takes::text:
        return "text";
    case Takes::truth:
        return "true or false";
    case Takes::number:
        return range;
    case Takes::whole:
        return fmt::format("whole number, {:.0f} to {:.0f}", key.low, key.high);
    case Takes::time:
        return fmt::format("time, at most {:g} s", key.high);
    case Takes::word:
        return "`\"" + fmt::format("{}", fmt::join(words_of(key), "\"` `\"")) + "\"`";
    case Takes::spread:
        return fmt::format("one number, plus or minus, or a pair, from-to; {}", range);
    case Takes::times:
        return fmt::format("one time, from nothing up to it, or a pair, from-to; at most {:g} s", key.high);
    case Takes::names:
        return "clips";
    case Takes::points:
        return "pairs of numbers";
    case Takes::pair:
        return "a pair";
    case Takes::table:
        return std::string_view(key.parent) == "project" ? "entries by name" : "a table";
    case Takes::entries:
        return "tables by name";
    case Takes::tables:
        return "a list of tables";
    case Takes::loop:
        return "true, or a table";
    case Takes::actions:
        return "a table, or a list of them";
    case Takes::lists:
        return "a list of lists of tables";
    case Takes::places:
        return "names, each with a number or a list of them";
    case Takes::target:
        return *key.section ? "a name, or a table" : "a name, or true";
    }
    return {};
}

} // namespace

void write_schema(std::ostream& out, const Keys& keys, const std::string& title) {
    const std::string root = keys.front().parent;
    json schema{{"$schema", "https://json-schema.org/draft/2020-12/schema"}, {"title", title}};
    schema.update(object_of(keys, root));
    for (const std::string& section : sections(keys))
        if (section != root) schema["$defs"][section] = object_of(keys, section);
    out << schema.dump(2) << '\n';
}

void write_reference(std::ostream& out, const Keys& keys) {
    for (const std::string& section : sections(keys)) {
        const std::string heading = section_heading(section);
        out << "\n## " << (heading.empty() ? fmt::format("`{}`", section) : fmt::format("`{}`", heading)) << "\n\n"
            << "| key | takes | without it | what for |\n|---|---|---|---|\n";
        for (const Key& key : keys)
            if (key.parent == section)
                out << fmt::format("| `{}` | {} | {} | {} |\n", key.name, what_it_takes(key), key.default_value,
                                   key.description);
    }
}

void write_log_schema(std::ostream& out) {
    json schema{{"$schema", "https://json-schema.org/draft/2020-12/schema"},
                {"title", "A line of the decision log, version 1"},
                {"type", "object"},
                {"required", {"frame", "at", "decision"}},
                {"additionalProperties", false}};
    for (const LogField& field : log_fields()) {
        std::string path = field.path;
        json* holder = &schema;
        for (std::size_t dot = path.find('.'); dot != std::string::npos; dot = path.find('.')) {
            const bool list = path[dot - 1] == ']';
            holder = &(*holder)["properties"][path.substr(0, list ? dot - 2 : dot)];
            if (list) holder = &(*holder)["items"];
            path.erase(0, dot + 1);
        }
        json& one = (*holder)["properties"][path];
        one = {{"type", field.type}, {"description", field.description}};
        if (path == "point") one["items"] = {{"type", "number"}};
    }
    out << schema.dump(2) << '\n';
}

void write_log_reference(std::ostream& out) {
    out << "| field | type | decisions | what |\n|---|---|---|---|\n";
    for (const LogField& field : log_fields())
        out << fmt::format("| `{}` | {} | {} | {} |\n", field.path, field.type, *field.of ? field.of : "all",
                           field.description);
}

} // namespace kiai::tool
