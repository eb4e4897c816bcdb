#include "json_schema.h"

#include <algorithm>

namespace support {
namespace {

using nlohmann::json;

bool is_a(const json& value, const std::string& type) {
    if (type == "integer") return value.is_number_integer();
    if (type == "number") return value.is_number();
    if (type == "string") return value.is_string();
    if (type == "boolean") return value.is_boolean();
    return type == "array" ? value.is_array() : value.is_object();
}

bool has_type(const json& value, const json& types) {
    if (types.is_string()) return is_a(value, types);
    return std::any_of(types.begin(), types.end(), [&](const json& type) { return is_a(value, type); });
}

std::string object_fault(const json& value, const json& schema, const std::string& path) {
    for (const json& name : schema.value("required", json::array()))
        if (!value.contains(name)) return path + " has no " + name.get<std::string>();
    const json properties = schema.value("properties", json::object());
    const json others = schema.value("additionalProperties", json(false));
    for (const auto& [name, member] : value.items()) {
        const std::string inside = path + "." + name;
        if (!properties.contains(name) && others == json(false)) return inside + " is not in the schema";
        const std::string fault = schema_fault(member, properties.contains(name) ? properties[name] : others, inside);
        if (!fault.empty()) return fault;
    }
    return {};
}

} // namespace

std::string schema_fault(const json& value, const json& schema, const std::string& path) {
    if (schema.contains("type") && !has_type(value, schema["type"])) return path + " is no " + schema["type"].dump();
    if (schema.contains("const") && value != schema["const"]) return path + " is not " + schema["const"].dump();
    if (schema.contains("enum") &&
        std::find(schema["enum"].begin(), schema["enum"].end(), value) == schema["enum"].end())
        return path + " is none of " + schema["enum"].dump();
    if (value.is_object() && (schema.contains("properties") || schema.contains("additionalProperties")))
        return object_fault(value, schema, path);
    if (value.is_array() && schema.contains("items"))
        for (const json& item : value)
            if (std::string fault = schema_fault(item, schema["items"], path + "[]"); !fault.empty()) return fault;
    return {};
}

} // namespace support
