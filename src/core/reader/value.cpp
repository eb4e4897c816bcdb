#include "core/reader/value.h"

#include "core/model/chance.h"

#include <cstring>

namespace kiai::reader {

const Value* Value::find(std::string_view key) const noexcept {
    for (const Member& member : members)
        if (member.key == key) return &member.value;
    return nullptr;
}

const char* kind_name(Value::Kind kind) noexcept {
    switch (kind) {
    case Value::Kind::text:
        return "a text";
    case Value::Kind::number:
        return "a number";
    case Value::Kind::truth:
        return "true or false";
    case Value::Kind::list:
        return "a list";
    case Value::Kind::table:
        return "a table";
    case Value::Kind::date:
        return "a date";
    }
    return "a value";
}

std::uint64_t hash(const Value& value) noexcept {
    std::uint64_t sum = model::scatter(static_cast<std::uint64_t>(value.kind) ^ model::hash(value.text));
    std::uint64_t bits = value.truth ? 1 : 0;
    if (value.kind == Value::Kind::number) std::memcpy(&bits, &value.number, sizeof bits);
    sum = model::scatter(sum ^ bits);
    for (const Value& item : value.items) sum = model::scatter(sum ^ hash(item));
    for (const Member& member : value.members)
        sum = model::scatter(model::scatter(sum ^ model::hash(member.key)) ^ hash(member.value));
    return sum;
}

} // namespace kiai::reader
