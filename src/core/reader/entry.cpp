#include "core/reader/entry.h"
#include "core/model/fill.h"

#include "core/dsp/math.h"
#include "core/model/near.h"
#include "core/model/standard_error.h"
#include "core/reader/renamed.h"
#include "core/reader/scan.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <sstream>

namespace kiai::reader {

std::optional<model::Duration> parse_duration(const std::string& text) {
    Scan scan(text);
    scan.blanks();
    const std::optional<double> value = scan.number();
    scan.blanks();
    const std::string_view unit = scan.while_(is_letter);
    scan.blanks();
    if (!value || !scan.done()) return std::nullopt;
    if (unit == "ms") return model::Duration{*value / 1000, false};
    if (unit == "s") return model::Duration{*value, false};
    if (unit == "frame" || unit == "frames") return model::Duration{*value, true};
    return std::nullopt;
}

bool good_name(const std::string& name) noexcept {
    return !name.empty() && name.size() <= 64 && std::all_of(name.begin(), name.end(), [](char c) {
        return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '-' || c == '_';
    });
}

void Entry::fail(FindingCode code, model::Source source, const std::string& message, std::string fix,
                 std::string replacement) {
    ok_ = false;
    findings_.add(code, Severity::error, source, what_ + ": " + message, std::move(fix), about_,
                  std::move(replacement));
}

void Entry::doubt(FindingCode code, Severity severity, model::Source source, const std::string& message,
                  std::string fix) {
    findings_.add(code, severity, source, what_ + ": " + message, std::move(fix), about_);
}

const Key& Entry::key_of(const char* key) const {
    for (const char* section : sections_)
        if (const Key* const found = findings_.key(section, key)) return *found;
    // A bug in Kiai itself: the first project that reaches this line reveals it.
    model::to_standard_error(model::fill("kiai: the table of keys has no {} in {}", key, model::join(sections_)));
    std::abort();
}

const Value* Entry::any(const char* key) {
    return table_.find(key_of(key).name);
}

const Value* Entry::expect(const char* key, Value::Kind kind) {
    const Value* value = any(key);
    if (!value || value->kind == kind) return value;
    fail(FindingCode::wrong_type, value->source,
         model::fill("`{}` takes {}, not {}", key, kind_name(kind), kind_name(value->kind)),
         value->kind == Value::Kind::text && kind == Value::Kind::number ? "write the number without quotes and unit"
                                                                         : model::fill("give {}", kind_name(kind)));
    return nullptr;
}

namespace {

double percent_to_db(double percent) {
    return dsp::ratio_to_db(percent / 100);
}

std::string range_of(const Key& key) {
    const std::string unit = *key.unit ? model::fill(" {}", key.unit) : "";
    return model::fill("{} takes {} to {}{}", key.name, model::general(key.low), model::general(key.high), unit);
}

/// Returns `-6 dB`, `50 %` and `6 kHz` as numbers in the key's unit.
std::optional<double> with_unit(const std::string& text, const std::string& unit) {
    Scan scan(text);
    scan.blanks();
    const std::optional<double> value = scan.number(true);
    scan.blanks();
    if (unit == "Hz") {
        const double times = scan.take("kHz") ? 1000 : scan.take("Hz") ? 1 : 0;
        scan.blanks();
        return value && scan.done() && times > 0 ? std::optional(*value * times) : std::nullopt;
    }
    const bool decibels = scan.take("dB"), percent = !decibels && scan.take("%");
    scan.blanks();
    if (!value || !scan.done() || (!decibels && !percent)) return std::nullopt;
    if (unit == "dB" && decibels) return value;
    if (unit == "dB" && *value > 0) return percent_to_db(*value);
    if (unit == "dB" && *value == 0) return -120;
    if (unit == "parts of 1" && percent) return *value / 100;
    return std::nullopt;
}

} // namespace

std::optional<double> Entry::number_of(const Value& value, const Key& key) {
    const std::string unit = key.unit;
    const bool has_units = unit == "dB" || unit == "parts of 1" || unit == "Hz";
    std::optional<double> number;
    if (value.kind == Value::Kind::number) number = value.number;
    if (value.kind == Value::Kind::text && has_units) number = with_unit(value.text, unit);
    if (!number) {
        const char* example = unit == "dB" ? "write dB as a number, or a text with its unit: -6, \"-6 dB\" or \"50 %\""
                              : unit == "Hz"
                                  ? "write Hz as a number, or a text with its unit: 800, \"800 Hz\" or \"6 kHz\""
                              : has_units ? "write it as a number or in per cent: 0.5 or \"50 %\""
                                          : "write the number without quotes and unit";
        fail(FindingCode::wrong_type, value.source,
             model::fill("`{}` takes a number, not {}", key.name,
                         value.kind == Value::Kind::text ? model::fill("\"{}\"", value.text) : kind_name(value.kind)),
             example);
        return std::nullopt;
    }
    if (*number >= key.low && *number <= key.high) {
        if (value.kind == Value::Kind::number && unit == "dB" && std::string_view(key.name) == "gain" && *number > 0 &&
            *number < 1)
            doubt(FindingCode::other_unit, Severity::note, value.source,
                  model::fill("`{} = {}` raises the level by {} dB", key.name, model::general(*number),
                              model::general(*number)),
                  model::fill("if {} per cent of the level was meant, write \"{} %\", which is {} dB",
                              model::general(100 * *number), model::general(100 * *number),
                              model::fixed(percent_to_db(100 * *number), 1)));
        return number;
    }
    const std::string said = value.kind == Value::Kind::text ? model::fill("`{} = \"{}\"`", key.name, value.text)
                                                             : model::fill("`{} = {}`", key.name, value.number);
    if (value.kind == Value::Kind::number && unit == "dB" && *number > key.high && *number <= 100)
        fail(FindingCode::bad_value, value.source, model::fill("{} is not a gain in dB", said),
             model::fill("if {0} per cent was meant, write \"{0} %\", which is {1} dB; {2}", model::general(*number),
                         model::fixed(percent_to_db(*number), 1), range_of(key)));
    else if (value.kind == Value::Kind::number && unit == "parts of 1" && *number > 1 && *number <= 100)
        fail(FindingCode::bad_value, value.source, model::fill("{} is out of range", said),
             model::fill("if {0} per cent was meant, write \"{0} %\"; {1}", model::general(*number), range_of(key)));
    else
        fail(FindingCode::bad_value, value.source, model::fill("{} is out of range", said), range_of(key));
    return std::nullopt;
}

std::optional<double> Entry::number(const char* key) {
    const Value* value = any(key);
    return value ? number_of(*value, key_of(key)) : std::nullopt;
}

std::optional<int> Entry::whole(const char* key) {
    const Key& known = key_of(key);
    const Value* value = expect(key, Value::Kind::number);
    if (!value) return std::nullopt;
    if (value->number == std::floor(value->number) && value->number >= known.low && value->number <= known.high)
        return static_cast<int>(value->number);
    fail(FindingCode::bad_value, value->source, model::fill("`{} = {}` is out of range", key, value->number),
         model::fill("{} takes a whole number from {} to {}", key, model::fixed(known.low, 0),
                     model::fixed(known.high, 0)));
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

std::optional<model::Duration> Entry::duration(const char* key) {
    const Value* value = any(key);
    if (!value) return std::nullopt;
    const double most_seconds = key_of(key).high;
    const auto duration = value->kind == Value::Kind::text ? parse_duration(value->text) : std::nullopt;
    if (!duration) {
        fail(FindingCode::bad_value, value->source, model::fill("`{}` takes a time with its unit", key),
             "write it as \"12 ms\", \"0.5 s\" or \"480 frames\"");
        return std::nullopt;
    }
    if (duration->in_frames ? duration->value > most_seconds * 192000 : duration->value > most_seconds) {
        fail(FindingCode::bad_value, value->source, model::fill("`{} = \"{}\"` is too long", key, value->text),
             model::fill("at most {} s", most_seconds));
        return std::nullopt;
    }
    return duration;
}

std::optional<int> Entry::word(const char* key) {
    const Value* value = expect(key, Value::Kind::text);
    if (!value) return std::nullopt;
    std::vector<std::string> words;
    std::istringstream all(key_of(key).choices);
    for (std::string one; std::getline(all, one, '|');) words.push_back(one);
    const auto found = std::find(words.begin(), words.end(), value->text);
    if (found != words.end()) return static_cast<int>(found - words.begin());
    const std::string now = renamed_value(key, value->text);
    fail(FindingCode::bad_value, value->source, model::fill("`{} = \"{}\"` is not a valid value", key, value->text),
         now.empty() ? model::fill("{} takes one of: {}", key, model::join(words))
                     : model::fill("it is now called \"{}\"", now),
         now);
    return std::nullopt;
}

const Value* Entry::list(const char* key) {
    return expect(key, Value::Kind::list);
}

const Value* Entry::table(const char* key) {
    return expect(key, Value::Kind::table);
}

/// One number is plus or minus that number; a pair is from-to.
model::Spread Entry::spread(const char* key) {
    const Value* value = any(key);
    if (!value) return {};
    Key known = key_of(key);
    if (value->kind != Value::Kind::list) {
        known.low = 0;
        const auto most = number_of(*value, known);
        return most ? model::Spread{-*most, *most} : model::Spread{};
    }
    if (value->items.size() != 2) {
        fail(FindingCode::bad_value, value->source, model::fill("`{}` takes one number or two", key),
             model::fill("write {} = 1.0 for plus or minus, or [from, to]", key));
        return {};
    }
    const auto one = number_of(value->items[0], known), other = number_of(value->items[1], known);
    if (!one || !other) return {};
    const model::Spread spread{std::min(*one, *other), std::max(*one, *other)};
    const bool like_ratios = spread.from >= 0.5 && spread.from < 1 && spread.to > 1 && spread.to <= 2;
    if (like_ratios && std::string_view(known.unit) == "semitones")
        doubt(FindingCode::other_unit, Severity::note, value->source,
              model::fill("`{} = [{}, {}]` is in semitones and raises every play", key, model::general(spread.from),
                          model::general(spread.to)),
              model::fill("if these are speeds, write {} = [{}, {}]", key, model::fixed(12 * std::log2(spread.from), 1),
                          model::fixed(12 * std::log2(spread.to), 1)));
    return spread;
}

/// One time is from 0 to that time; a pair is from-to.
model::Spread Entry::times(const char* key) {
    const Value* value = any(key);
    if (!value) return {};
    const double most_seconds = key_of(key).high;
    const bool pair = value->kind == Value::Kind::list && value->items.size() == 2;
    double seconds[2] = {};
    for (std::size_t i = 0; i < (pair ? 2u : 1u); ++i) {
        const Value& one = pair ? value->items[i] : *value;
        const auto time = one.kind == Value::Kind::text ? parse_duration(one.text) : std::nullopt;
        if (!time || time->in_frames || time->value > most_seconds) {
            fail(FindingCode::bad_value, one.source, model::fill("`{}` takes a time, or two, in ms or s", key),
                 model::fill("write {0} = \"20 ms\" or {0} = [\"5 ms\", \"20 ms\"], at most {1} s", key, most_seconds));
            return {};
        }
        seconds[pair ? i : 1] = time->value;
    }
    return {std::min(seconds[0], seconds[1]), std::max(seconds[0], seconds[1])};
}

std::optional<std::pair<model::Duration, double>> Entry::time_or_pair(const char* key) {
    const Value* value = any(key);
    if (!value || value->kind != Value::Kind::list) {
        const auto time = duration(key);
        if (!time) return std::nullopt;
        return std::pair{*time, 0.0};
    }
    const bool pair = value->items.size() == 2 && value->items[0].kind == Value::Kind::text &&
                      value->items[1].kind == Value::Kind::text;
    const auto low = pair ? parse_duration(value->items[0].text) : std::nullopt,
               high = pair ? parse_duration(value->items[1].text) : std::nullopt;
    if (low && high && !low->in_frames && !high->in_frames && low->value <= high->value &&
        high->value <= key_of(key).high)
        return std::pair{*low, high->value - low->value};
    fail(FindingCode::bad_value, value->source,
         model::fill("`{}` takes a time, or the shortest and the longest of a random one, in ms or s", key),
         model::fill("write {0} = \"2 s\" or {0} = [\"2 s\", \"5 s\"]", key));
    return std::nullopt;
}

void Entry::missing(const char* key, const std::string& fix) {
    for (const Member& member : table_.members) // under its old name, which `finish` reports
        for (const char* section : sections_)
            if (renamed_key(section, member.key) == key) return leave_out();
    if (ok_) fail(FindingCode::missing_key, source(), model::fill("missing key `{}`", key_of(key).name), fix);
}

/// Returns the names of all keys of this entry, each once.
std::vector<std::string> Entry::known() const {
    std::vector<std::string> names;
    for (const char* section : sections_)
        for (const Key& key : findings_.keys())
            if (std::string_view(key.parent) == section &&
                std::find(names.begin(), names.end(), key.name) == names.end())
                names.emplace_back(key.name);
    return names;
}

/// Returns the first names and where to find the others.
static std::string listed(std::vector<std::string> names) {
    constexpr std::size_t most = 8;
    if (names.size() <= most) return model::join(names);
    names.resize(most);
    return model::join(names) + " … (`kiai check --schema project` prints all)";
}

void Entry::finish() {
    for (const Member& member : table_.members) {
        if (std::any_of(sections_.begin(), sections_.end(),
                        [&](const char* section) { return findings_.key(section, member.key) != nullptr; }))
            continue;
        std::string now;
        for (const char* section : sections_)
            if (now.empty()) now = renamed_key(section, member.key);
        if (!now.empty()) {
            fail(FindingCode::unknown_key, member.source, model::fill("`{}` is now called `{}`", member.key, now),
                 model::fill("write {} instead", now), now);
            continue;
        }
        const std::vector<std::string> known = this->known();
        std::string near = usual_key(member.key);
        if (std::find(known.begin(), known.end(), near) == known.end()) near = model::nearest(member.key, known);
        fail(FindingCode::unknown_key, member.source, model::fill("unknown key `{}`", member.key),
             near.empty() ? model::fill("known keys: {}", listed(known)) : model::fill("did you mean `{}`?", near));
    }
}

} // namespace kiai::reader
