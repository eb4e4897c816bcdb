// A JSON value, as commands build it. Only json.cpp includes the library that prints it.
#pragma once

#include <concepts>
#include <cstddef>
#include <cstdint>
#include <string>
#include <type_traits>
#include <utility>
#include <variant>
#include <vector>

namespace kiai::tool {

class Json {
  public:
    using Items = std::vector<Json>;
    using Members = std::vector<std::pair<std::string, Json>>; ///< in the order in which they are printed

    Json() = default; ///< null
    Json(bool value) : value_(value) {}
    template<std::integral Whole>
    requires(!std::same_as<Whole, bool>) Json(Whole value) : value_(static_cast<std::int64_t>(value)) {}
    Json(double value) : value_(value) {}
    Json(float value); ///< the shortest decimal number that is this float
    Json(const char* value) : value_(std::string(value)) {}
    Json(std::string value) : value_(std::move(value)) {}

    static Json object(Members members = {});
    static Json array(Items items = {});

    /// Returns the member; adds it at the end if it is missing. The value is an object, or null and becomes one.
    Json& operator[](const std::string& name);
    /// Returns the member, or nullptr.
    const Json* find(const std::string& name) const;
    /// Adds an item. The value is an array.
    void push_back(Json item) { std::get<Items>(value_).push_back(std::move(item)); }

    const Members& members() const { return std::get<Members>(value_); }
    const Items& items() const { return std::get<Items>(value_); }
    const std::string& text() const { return std::get<std::string>(value_); }
    bool is_text() const noexcept { return std::holds_alternative<std::string>(value_); }
    bool is_object() const noexcept { return std::holds_alternative<Members>(value_); }

    /// Returns the value as indented text with a line break at its end. Bytes that are not UTF-8 become U+FFFD; numbers
    /// that are not finite become null.
    std::string print() const;

  private:
    friend struct Printer;
    std::variant<std::nullptr_t, bool, std::int64_t, double, std::string, Items, Members> value_ = nullptr;
};

} // namespace kiai::tool
