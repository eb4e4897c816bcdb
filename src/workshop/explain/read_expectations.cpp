// Reads a file of expectations.
#include "core/reader/entry.h"
#include "runtime/project/parse_toml.h"

#include <kiai/workshop/expect.h>

#include <fmt/format.h>

#include <fstream>
#include <sstream>

namespace kiai::inline v0 {
namespace {

using reader::Entry;
using reader::Value;
using Kind = Expectation::Kind;

constexpr const char* kinds[] = {"heard", "silent", "at-most", "fresh", "level", "ended", "refused"};
constexpr double frame_rate = 48000; // a time in frames counts at this rate

Seconds seconds(const model::Duration& time) {
    return Seconds(time.in_frames ? time.value / frame_rate : time.value);
}

/// Reads a sound, or true for everything.
void read_target(reader::Entry& entry, const reader::Value& value, const char* key, Expectation& one) {
    if (value.kind == reader::Value::Kind::text && !value.text.empty())
        one.sound = value.text;
    else if (value.kind != reader::Value::Kind::truth || !value.truth)
        entry.fail(FindingCode::wrong_type, value.source, fmt::format("`{}` takes a sound, or true", key),
                   fmt::format("write {} = \"oak\", or {} = true for everything", key, key));
}

void read_levels(reader::Entry& entry, const reader::Value& list, Expectation& one) {
    const auto number = [](const reader::Value& value) { return value.kind == reader::Value::Kind::number; };
    if (list.items.size() != 2 || !number(list.items[0]) || !number(list.items[1]) ||
        list.items[0].number > list.items[1].number)
        return entry.fail(FindingCode::bad_value, list.source, "`level` takes two numbers, the lower first",
                          "write level = [-40, -3], in dBFS");
    one.low = static_cast<Decibels>(list.items[0].number);
    one.high = static_cast<Decibels>(list.items[1].number);
}

void read_trigger_of(reader::Entry& entry, const char* key, std::string& into, bool needed) {
    const reader::Value* value = entry.any(key);
    if (!value) {
        if (needed) entry.missing(key, fmt::format("write {} = \"press hopper\"", key));
        return;
    }
    into = entry.text(key).value_or("");
    if (value->kind == reader::Value::Kind::text && !read_trigger(into))
        entry.fail(FindingCode::bad_value, value->source, fmt::format("unknown trigger \"{}\"", into),
                   "write it as the log does: \"press hopper\", \"key-down KeyT\", \"contact marble+oak\"");
}

std::optional<Kind> kind_of(reader::Entry& entry) {
    std::optional<Kind> kind;
    for (std::size_t k = 0; k < std::size(kinds); ++k) {
        if (!entry.any(kinds[k])) continue;
        if (kind)
            entry.fail(
                FindingCode::bad_value, entry.any(kinds[k])->source,
                fmt::format("`{}` and `{}` are two expectations", kinds[static_cast<std::size_t>(*kind)], kinds[k]),
                "write two [[expect]] tables");
        kind = static_cast<Kind>(k);
    }
    return kind;
}

std::optional<Expectation> read_one(reader::Findings& findings, const reader::Value& table, std::size_t number) {
    reader::Entry entry(findings, table, {"expect"}, fmt::format("expectation {}", number));
    Expectation one;
    one.line = table.source.line;
    const auto kind = kind_of(entry);
    if (!kind) {
        entry.finish();
        if (entry.ok())
            entry.fail(FindingCode::missing_key, table.source, "no expectation given",
                       "write one of: heard, silent, at-most, fresh, level, ended, refused");
        return std::nullopt;
    }
    one.kind = *kind;
    switch (*kind) {
    case Kind::heard:
        one.sound = entry.text("heard").value_or("");
        break;
    case Kind::fresh:
        one.sound = entry.text("fresh").value_or("");
        break;
    case Kind::silent:
        read_target(entry, *entry.any("silent"), "silent", one);
        break;
    case Kind::ended:
        read_target(entry, *entry.any("ended"), "ended", one);
        break;
    case Kind::at_most:
        one.plays = entry.whole("at-most").value_or(0);
        break;
    case Kind::level:
        if (const reader::Value* levels = entry.list("level")) read_levels(entry, *levels, one);
        if (!entry.any("sound")) entry.missing("sound", "write sound = \"oak\"");
        break;
    case Kind::refused:
        read_trigger_of(entry, "refused", one.of, true);
        one.by = entry.text("by").value_or("");
        if (one.by.empty()) entry.missing("by", "write by = \"hopper-stock > 0\"");
        break;
    }
    if (*kind == Kind::heard || *kind == Kind::ended) read_trigger_of(entry, "of", one.of, *kind == Kind::ended);
    if (const auto sound = entry.text("sound")) {
        if (*kind != Kind::at_most && *kind != Kind::level)
            entry.fail(FindingCode::bad_value, entry.any("sound")->source, "`sound` belongs to `at-most` and `level`",
                       fmt::format("write {} = \"{}\"", kinds[static_cast<std::size_t>(*kind)], *sound));
        one.sound = *sound;
    }
    if (const auto within = entry.duration("within")) one.within = seconds(*within);
    if (const auto from = entry.duration("from")) one.from = seconds(*from);
    if (const auto to = entry.duration("to")) one.to = seconds(*to);
    if (entry.any("to") && one.to <= one.from)
        entry.fail(FindingCode::bad_value, entry.any("to")->source, "`to` is not after `from`",
                   "write from = \"1 s\", to = \"2 s\"");
    one.note = entry.text("note").value_or("");
    entry.finish();
    return entry.ok() ? std::optional(one) : std::nullopt;
}

} // namespace

LoadedExpectations load_expectations(const std::filesystem::path& file) {
    LoadedExpectations loaded;
    reader::Findings findings(file.string(), expectation_keys());
    std::ifstream in(file, std::ios::binary);
    std::ostringstream text;
    text << in.rdbuf();
    if (!in.is_open() || in.bad()) {
        findings.add(FindingCode::no_expectations, {}, "missing file, or no permission to read it",
                     "see docs/expectations.md", {});
    } else if (const auto parsed = runtime::parse_toml(text.str());
               const auto* syntax = std::get_if<runtime::SyntaxError>(&parsed)) {
        findings.add(FindingCode::toml_syntax, syntax->source, syntax->message, runtime::toml_fix(text.str(), *syntax),
                     {});
    } else {
        reader::Entry root(findings, std::get<reader::Value>(parsed), {"expectations"}, "the file");
        if (const auto format = root.whole("format"); !format || *format != 1)
            root.fail(FindingCode::unknown_format, root.source(), "missing `format = 1`",
                      "write format = 1 at its top");
        if (const reader::Value* all = root.list("expect"))
            for (std::size_t i = 0; i < all->items.size(); ++i)
                if (auto one = read_one(findings, all->items[i], i + 1)) loaded.expectations.push_back(std::move(*one));
        root.finish();
    }
    loaded.findings = findings.take();
    return loaded;
}

} // namespace kiai::inline v0
