#include "json.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <array>
#include <charconv>
#include <limits>

namespace kiai::tool {

/// Converts a value to one of the library's.
struct Printer {
    using Value = nlohmann::ordered_json;

    static Value of(const Json& json) { return std::visit(Printer(), json.value_); }

    Value operator()(const Json::Items& items) const {
        Value value = Value::array();
        for (const Json& item : items) value.push_back(of(item));
        return value;
    }
    Value operator()(const Json::Members& members) const {
        Value value = Value::object();
        for (const auto& [name, member] : members) value[name] = of(member);
        return value;
    }
    template<class Plain>
    Value operator()(const Plain& plain) const {
        return plain;
    }
};

Json::Json(float value) : value_(static_cast<double>(value)) {
    std::array<char, 32> digits;
    const char* const end = std::to_chars(digits.data(), digits.data() + digits.size(), value).ptr;
    std::from_chars(digits.data(), end, std::get<double>(value_));
}

Json Json::object(Members members) {
    Json json;
    json.value_ = std::move(members);
    return json;
}

Json Json::array(Items items) {
    Json json;
    json.value_ = std::move(items);
    return json;
}

Json& Json::operator[](const std::string& name) {
    if (!is_object()) value_ = Members();
    Members& members = std::get<Members>(value_);
    const auto at = std::find_if(members.begin(), members.end(), [&](const auto& one) { return one.first == name; });
    return at != members.end() ? at->second : members.emplace_back(name, Json()).second;
}

const Json* Json::find(const std::string& name) const {
    for (const auto& [member, value] : members())
        if (member == name) return &value;
    return nullptr;
}

std::string Json::print() const {
    return Printer::of(*this).dump(2, ' ', false, Printer::Value::error_handler_t::replace) + "\n";
}

} // namespace kiai::tool
