// How a value appears in the JSON that a command prints. The printed value and its schema come from one declaration.
#pragma once

#include "json.h"

#include <array>
#include <filesystem>
#include <functional>
#include <map>
#include <optional>
#include <ranges>
#include <string>
#include <type_traits>
#include <utility>
#include <vector>

namespace kiai::tool {

template<class T>
class Shape;

/// The shape of a T. For each type that it prints, a command has a function `describe_members(Shape<T>&)` in this
/// namespace.
template<class T>
const Shape<T>& shape_of() {
    static const Shape<T> shape = [] {
        Shape<T> empty;
        describe_members(empty);
        return empty;
    }();
    return shape;
}

template<class T>
inline constexpr bool is_optional = false;
template<class T>
inline constexpr bool is_optional<std::optional<T>> = true;

template<class T>
concept MapByName = requires {
    typename T::mapped_type;
};

template<class T>
Json to_json(const T& value) {
    if constexpr (std::is_arithmetic_v<T> || std::is_same_v<T, Json>)
        return Json(value);
    else if constexpr (std::is_same_v<T, std::filesystem::path>)
        return Json(value.string());
    else if constexpr (std::is_convertible_v<T, std::string>)
        return Json(std::string(value));
    else if constexpr (MapByName<T>) {
        Json object = Json::object();
        for (const auto& [name, member] : value) object[name] = to_json(member);
        return object;
    } else if constexpr (std::ranges::range<T>) {
        Json array = Json::array();
        for (const auto& item : value) array.push_back(to_json(item));
        return array;
    } else
        return shape_of<T>().json(value);
}

/// A JSON schema of what `to_json` makes of a T.
template<class T>
Json schema_of() {
    const auto type = [](const char* name) { return Json::object({{"type", name}}); };
    if constexpr (std::is_same_v<T, Json>)
        return Json::object(); // any value; see Shape::described_as
    else if constexpr (std::is_same_v<T, bool>)
        return type("boolean");
    else if constexpr (std::is_integral_v<T>)
        return type("integer");
    else if constexpr (std::is_floating_point_v<T>)
        return type("number");
    else if constexpr (std::is_same_v<T, std::filesystem::path> || std::is_convertible_v<T, std::string>)
        return type("string");
    else if constexpr (MapByName<T>) {
        Json object = type("object");
        object["additionalProperties"] = schema_of<typename T::mapped_type>();
        return object;
    } else if constexpr (std::ranges::range<T>) {
        Json array = type("array");
        array["items"] = schema_of<std::ranges::range_value_t<T>>();
        return array;
    } else
        return shape_of<T>().schema();
}

template<class T>
class Shape {
  public:
    /// Declares the next member. `get` is a function of a T, or one of T's members; a member whose value is an empty
    /// std::optional is not printed.
    template<class Get>
    Shape& has(const char* name, const char* description, Get get) {
        using Value = std::remove_cvref_t<std::invoke_result_t<Get, const T&>>;
        if constexpr (is_optional<Value>)
            members_.push_back({name, description, schema_of<typename Value::value_type>(), false,
                                [get](const T& of) -> std::optional<Json> {
                                    const Value value = std::invoke(get, of);
                                    return value ? std::optional(to_json(*value)) : std::nullopt;
                                }});
        else
            members_.push_back({name, description, schema_of<Value>(), true,
                                [get](const T& of) -> std::optional<Json> { return to_json(std::invoke(get, of)); }});
        return *this;
    }
    /// Limits the text of the last member to these words.
    Shape& one_of(const std::vector<std::string>& words) {
        members_.back().schema["enum"] = to_json(words);
        return *this;
    }

    /// Sets the schema of the last member, whose function returns a Json.
    Shape& described_as(Json schema) {
        members_.back().schema = std::move(schema);
        return *this;
    }

    Json json(const T& of) const {
        Json object = Json::object();
        for (const Member& member : members_)
            if (std::optional<Json> value = member.get(of)) object[member.name] = std::move(*value);
        return object;
    }

    Json schema() const {
        Json properties = Json::object(), required = Json::array();
        for (const Member& member : members_) {
            Json& property = properties[member.name] = member.schema;
            property["description"] = member.description;
            if (member.required) required.push_back(member.name);
        }
        return Json::object({{"type", "object"},
                             {"properties", std::move(properties)},
                             {"required", std::move(required)},
                             {"additionalProperties", false}});
    }

  private:
    struct Member {
        const char *name, *description;
        Json schema;
        bool required;
        std::function<std::optional<Json>(const T&)> get;
    };
    std::vector<Member> members_;
};

} // namespace kiai::tool
