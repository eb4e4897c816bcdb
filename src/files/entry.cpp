#include "files/entry.h"

#include "model/near.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <regex>

namespace kiai::files {

std::optional<model::Duration> parse_duration(const std::string& text) {
    static const std::regex form(R"(\s*([0-9]+(?:\.[0-9]+)?)\s*(ms|s|frames?)\s*)");
    std::smatch parts;
    if (text.size() > 40 || !std::regex_match(text, parts, form)) return std::nullopt;
    const double value = std::stod(parts[1]);
    if (parts[2] == "ms") return model::Duration{value / 1000, false};
    return model::Duration{value, parts[2] != "s"};
}

bool good_name(const std::string& name) noexcept {
    return !name.empty() && name.size() <= 64 && std::all_of(name.begin(), name.end(), [](char c) {
        return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '-' || c == '_';
    });
}

void Entry::fail(FindingCode code, model::Source source, std::string sentence, std::string mend, std::string certain) {
    ok_ = false;
    findings_.add(code, Severity::error, source, what_ + ": " + sentence, std::move(mend), about_, std::move(certain));
}

void Entry::doubt(FindingCode code, Severity severity, model::Source source, std::string sentence, std::string mend) {
    findings_.add(code, severity, source, what_ + ": " + sentence, std::move(mend), about_);
}

const Value* Entry::any(const char* key) {
    asked_.push_back(key);
    return table_.find(key);
}

const Value* Entry::expect(const char* key, Value::Kind kind) {
    const Value* value = any(key);
    if (!value || value->kind == kind) return value;
    fail(FindingCode::wrong_type, value->source,
         fmt::format("`{}` takes {}, not {}", key, kind_name(kind), kind_name(value->kind)),
         value->kind == Value::Kind::text && kind == Value::Kind::number ? "write the number without quotes and unit"
                                                                         : fmt::format("give {}", kind_name(kind)));
    return nullptr;
}

bool in_range(Entry& entry, const Value& value, const std::string& key, double low, double high,
              const std::string& unit) {
    if (value.kind != Value::Kind::number) {
        entry.fail(FindingCode::wrong_type, value.source,
                   fmt::format("`{}` takes a number, not {}", key, kind_name(value.kind)),
                   "write the number without quotes and unit");
        return false;
    }
    if (value.number >= low && value.number <= high) return true;
    const std::string range = fmt::format("{} takes {} to {} {}", key, low, high, unit);
    if (unit == "dB" && value.number > high && value.number <= 100)
        entry.fail(FindingCode::bad_value, value.source,
                   fmt::format("`{} = {}` is not a gain in dB", key, value.number),
                   fmt::format("if {} per cent was meant, that is {:.1f} dB; {}", value.number,
                               20 * std::log10(value.number / 100), range));
    else
        entry.fail(FindingCode::bad_value, value.source, fmt::format("`{} = {}` is out of range", key, value.number),
                   range);
    return false;
}

std::optional<double> Entry::number(const char* key, double low, double high, const char* unit) {
    const Value* value = any(key);
    if (!value || !in_range(*this, *value, key, low, high, unit)) return std::nullopt;
    return value->number;
}

std::optional<int> Entry::whole(const char* key, int low, int high) {
    const Value* value = expect(key, Value::Kind::number);
    if (!value) return std::nullopt;
    if (value->number == std::floor(value->number) && value->number >= low && value->number <= high)
        return static_cast<int>(value->number);
    fail(FindingCode::bad_value, value->source, fmt::format("`{} = {}` is out of range", key, value->number),
         fmt::format("{} takes a whole number from {} to {}", key, low, high));
    return std::nullopt;
}

std::optional<std::string> Entry::text(const char* key) {
    const Value* value = expect(key, Value::Kind::text);
    return value ? std::optional(value->text) : std::nullopt;
}

std::optional<bool> Entry::truth(const char* key) {
    const Value* value = expect(key, Value::Kind::truth);
    return value ? std::optional(value->truth) : std::nullopt;
}

std::optional<model::Duration> Entry::duration(const char* key, double most_seconds) {
    const Value* value = any(key);
    if (!value) return std::nullopt;
    const auto duration = value->kind == Value::Kind::text ? parse_duration(value->text) : std::nullopt;
    if (!duration) {
        fail(FindingCode::bad_value, value->source, fmt::format("`{}` takes a time with its unit", key),
             "write it as \"12 ms\", \"0.5 s\" or \"480 frames\"");
        return std::nullopt;
    }
    if (duration->in_frames ? duration->value > most_seconds * 192000 : duration->value > most_seconds) {
        fail(FindingCode::bad_value, value->source, fmt::format("`{} = \"{}\"` is too long", key, value->text),
             fmt::format("at most {} s", most_seconds));
        return std::nullopt;
    }
    return duration;
}

std::optional<int> Entry::word(const char* key, const std::vector<std::string>& words) {
    const Value* value = expect(key, Value::Kind::text);
    if (!value) return std::nullopt;
    const auto found = std::find(words.begin(), words.end(), value->text);
    if (found != words.end()) return static_cast<int>(found - words.begin());
    fail(FindingCode::bad_value, value->source, fmt::format("`{} = \"{}\"` is not known", key, value->text),
         fmt::format("{} takes one of: {}", key, fmt::join(words, ", ")));
    return std::nullopt;
}

const Value* Entry::list(const char* key) {
    return expect(key, Value::Kind::list);
}

const Value* Entry::table(const char* key) {
    return expect(key, Value::Kind::table);
}

void Entry::finish() {
    for (const Member& member : table_.members) {
        if (std::find(asked_.begin(), asked_.end(), member.key) != asked_.end()) continue;
        const std::string near = model::nearest(member.key, asked_);
        fail(FindingCode::unknown_key, member.source, fmt::format("`{}` is not a key here", member.key),
             near.empty() ? fmt::format("known here: {}", fmt::join(asked_, ", "))
                          : fmt::format("did you mean `{}`?", near));
    }
}

} // namespace kiai::files
