// Writes the table of keys as a JSON schema and as the reference page.
#include "keys_out.h"

#include "documents.h"

#include <kiai/keys.h>
#include <kiai/workshop/expect.h>
#include <kiai/workshop/log.h>

#include <fmt/format.h>

#include <algorithm>
#include <ostream>
#include <sstream>
#include <string_view>

namespace kiai::tool {
namespace {

Json object(Json::Members members) {
    return Json::object(std::move(members));
}

std::vector<std::string> words_of(const Key& key) {
    std::vector<std::string> words;
    std::istringstream all(key.choices);
    for (std::string one; std::getline(all, one, '|');) words.push_back(one);
    return words;
}

Json reference(const std::string& section) {
    return object({{"$ref", "#/$defs/" + section}});
}

Json of_type(const char* type) {
    return object({{"type", type}});
}

Json range_of(const Key& key) {
    return object({{"type", "number"}, {"minimum", key.low}, {"maximum", key.high}});
}

Json text_like(const char* pattern) {
    return object({{"type", "string"}, {"pattern", pattern}});
}

Json either(Json one, Json other) {
    return object({{"anyOf", Json::array({std::move(one), std::move(other)})}});
}

Json list(Json items) {
    return object({{"type", "array"}, {"items", std::move(items)}});
}

Json by_name(Json members) {
    return object({{"type", "object"}, {"additionalProperties", std::move(members)}});
}

Json of_number(const Key& key) {
    const std::string unit = key.unit;
    if (unit != "dB" && unit != "parts of 1") return range_of(key);
    const char* form = unit == "dB" ? R"(^\s*[+-]?[0-9]+(\.[0-9]+)?\s*(dB|%)\s*$)" : R"(^\s*[0-9]+(\.[0-9]+)?\s*%\s*$)";
    return either(range_of(key), text_like(form));
}

Json of_time() {
    return text_like(R"(^\s*[0-9]+(\.[0-9]+)?\s*(ms|s|frames?)\s*$)");
}

Json pair_of(Json one) {
    return object({{"type", "array"}, {"items", std::move(one)}, {"minItems", 2}, {"maxItems", 2}});
}

Json schema_of(const Key& key) {
    const std::string of = key.section;
    switch (key.takes) {
    case Takes::text:
        return of_type("string");
    case Takes::truth:
        return of_type("boolean");
    case Takes::number:
        return of_number(key);
    case Takes::whole:
        return object({{"type", "integer"}, {"minimum", key.low}, {"maximum", key.high}});
    case Takes::time:
        return of_time();
    case Takes::word:
        return object({{"enum", to_json(words_of(key))}});
    case Takes::spread:
        return either(of_number(key), pair_of(of_number(key)));
    case Takes::timing: {
        Json kinds = either(of_time(), pair_of(of_time()));
        return words_of(key).empty() ? kinds : either(object({{"enum", to_json(words_of(key))}}), std::move(kinds));
    }
    case Takes::times:
        return either(of_time(), pair_of(of_time()));
    case Takes::names:
        return either(list(either(of_type("string"), reference(of))), reference("series"));
    case Takes::points:
        return list(object({{"type", "array"}, {"minItems", 2}, {"maxItems", 2}}));
    case Takes::pair:
        return pair_of(object({{"type", Json::array({"string", "number"})}}));
    case Takes::table:
        if (std::string_view(key.parent) != "project") return reference(of);
        return by_name(std::string_view(key.name) == "clip" ? either(of_type("string"), reference(of)) : reference(of));
    case Takes::entries:
        return by_name(reference(of));
    case Takes::tables:
        return list(reference(of));
    case Takes::loop:
        return either(of_type("boolean"), reference(of));
    case Takes::actions:
        return either(reference(of), list(reference(of)));
    case Takes::lists:
        return list(list(reference(of)));
    case Takes::places:
        return by_name(either(range_of(key), list(range_of(key))));
    case Takes::target:
        return either(of_type("string"), of.empty() ? of_type("boolean") : reference(of));
    }
    return object({});
}

std::vector<std::string> sections(const Keys& keys) {
    std::vector<std::string> all;
    for (const Key& key : keys)
        if (std::find(all.begin(), all.end(), key.parent) == all.end()) all.emplace_back(key.parent);
    return all;
}

Json object_of(const Keys& keys, const std::string& section) {
    Json properties = object({});
    Json needed = Json::array();
    for (const Key& key : keys) {
        // A sound with only one layer has that layer's keys itself.
        const bool own = key.parent == section;
        if (!own && !(section == "sound" && std::string_view(key.parent) == "layer")) continue;
        if (!own && properties.find(key.name)) continue;
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
    Json all = object({{"type", "object"}, {"properties", std::move(properties)}, {"additionalProperties", false}});
    if (!needed.items().empty()) all["required"] = std::move(needed);
    return all;
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
        return fmt::format("a number (plus or minus), or minimum and maximum; {}", range);
    case Takes::timing: {
        const std::string word = words_of(key).empty() ? "" : "`\"" + words_of(key).front() + "\"`, or ";
        return fmt::format("{}a time, or minimum and maximum; at most {:g} s", word, key.high);
    }
    case Takes::times:
        return fmt::format("a time (from 0 to it), or minimum and maximum; at most {:g} s", key.high);
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
        return "a table, or a list of tables";
    case Takes::lists:
        return "lists of tables";
    case Takes::places:
        return "names, each with a number or a list of numbers";
    case Takes::target:
        return *key.section ? "a name, or a table" : "a name, or true";
    }
    return {};
}

/// Writes a row per member, by their paths: `layers[].gain`.
void write_members(std::ostream& out, const Json& object, const std::string& path) {
    const Json* const properties = object.find("properties");
    if (!properties) return;
    for (const auto& [name, schema] : properties->members()) {
        const Json *type = schema.find("type"), *inner = &schema;
        std::string inside = path + name;
        out << fmt::format("| `{}` | {} | {} |\n", inside, type && type->is_text() ? type->text() : "any",
                           schema.find("description")->text());
        for (const Json* next = inner->find("items"); next; next = inner->find("items")) inner = next, inside += "[]";
        if (const Json* named = inner->find("additionalProperties"); named && named->is_object())
            inner = named, inside += ".NAME";
        write_members(out, *inner, inside + ".");
    }
}

} // namespace

void write_reference(std::ostream& out, const Document& document) {
    out << "| member | type | description |\n|---|---|---|\n";
    write_members(out, schema_of(document), "");
}

void write_schema(std::ostream& out, const Keys& keys, const std::string& title) {
    const std::string root = keys.front().parent;
    Json schema = object({{"$schema", "https://json-schema.org/draft/2020-12/schema"}, {"title", title}});
    const Json top = object_of(keys, root);
    for (const auto& [name, member] : top.members()) schema[name] = member;
    for (const std::string& section : sections(keys))
        if (section != root) schema["$defs"][section] = object_of(keys, section);
    out << schema.print();
}

void write_reference(std::ostream& out, const Keys& keys) {
    for (const std::string& section : sections(keys)) {
        const std::string heading = section_heading(section);
        out << "\n## " << (heading.empty() ? fmt::format("`{}`", section) : fmt::format("`{}`", heading)) << "\n\n"
            << "| key | type | default | description |\n|---|---|---|---|\n";
        for (const Key& key : keys)
            if (key.parent == section)
                out << fmt::format("| `{}` | {} | {} | {} |\n", key.name, what_it_takes(key), key.default_value,
                                   key.description);
    }
}

void write_log_schema(std::ostream& out) {
    Json schema = object({{"$schema", "https://json-schema.org/draft/2020-12/schema"},
                          {"title", "A line of the decision log, version 1"},
                          {"type", "object"},
                          {"required", Json::array({"frame", "at", "decision"})},
                          {"additionalProperties", false}});
    for (const LogField& field : log_fields()) {
        std::string path = field.path;
        Json* holder = &schema;
        for (std::size_t dot = path.find('.'); dot != std::string::npos; dot = path.find('.')) {
            const bool in_list = path[dot - 1] == ']';
            holder = &(*holder)["properties"][path.substr(0, in_list ? dot - 2 : dot)];
            if (in_list) holder = &(*holder)["items"];
            path.erase(0, dot + 1);
        }
        Json& one = (*holder)["properties"][path] = object({{"type", field.type}, {"description", field.description}});
        if (path == "point") one["items"] = of_type("number");
    }
    out << schema.print();
}

void write_log_reference(std::ostream& out) {
    out << "| decision | meaning |\n|---|---|\n";
    for (int number = 0; number <= static_cast<int>(Outcome::last); ++number) {
        const auto outcome = static_cast<Outcome>(number);
        out << fmt::format("| `{}` | {} |\n", to_string(outcome), explain(outcome));
    }
    out << "\n| field | type | decisions | description |\n|---|---|---|---|\n";
    for (const LogField& field : log_fields())
        out << fmt::format("| `{}` | {} | {} | {} |\n", field.path, field.type, *field.of ? field.of : "all",
                           field.description);
}

} // namespace kiai::tool
