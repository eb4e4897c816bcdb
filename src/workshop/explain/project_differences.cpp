// Compares two states of a kiai.toml, entry by entry.
#include "core/reader/project_reader.h"
#include "runtime/project/parse_toml.h"
#include "runtime/project/read_folder.h"
#include "workshop/facts/content_hash.h"

#include <kiai/workshop/differences.h>

#include <fmt/format.h>

#include <map>

namespace kiai::inline v0 {
namespace {

namespace fs = std::filesystem;
using reader::Member;
using reader::Value;

/// Returns a value as text, without its position.
std::string text_of(const reader::Value& value) {
    switch (value.kind) {
    case reader::Value::Kind::number:
        return fmt::format("{}", value.number);
    case reader::Value::Kind::truth:
        return value.truth ? "true" : "false";
    case reader::Value::Kind::list: {
        std::string text = "[";
        for (const reader::Value& item : value.items) text += text_of(item) + ',';
        return text + ']';
    }
    case reader::Value::Kind::table: {
        std::map<std::string, std::string> members; // in any order
        for (const reader::Member& member : value.members) members[member.key] = text_of(member.value);
        std::string text = "{";
        for (const auto& [key, one] : members) text += key + '=' + one + ',';
        return text + '}';
    }
    default:
        return '"' + value.text + '"';
    }
}

std::string inner(const reader::Value& value) {
    std::string text;
    if (value.kind == reader::Value::Kind::list)
        for (const reader::Value& item : value.items) text += (text.empty() ? "" : "+") + item.text;
    return value.kind == reader::Value::Kind::list ? text : value.text;
}

/// Returns `contact marble+oak`, which identifies a binding.
std::string name_of_binding(const reader::Value& binding) {
    const reader::Value* trigger = binding.find("trigger");
    if (!trigger || trigger->members.empty()) return "binding";
    const reader::Member& what = trigger->members.front();
    const std::string on = inner(what.value);
    return "binding " + what.key + (on.empty() ? "" : " " + on);
}

/// Returns everything that has a name, by name.
std::map<std::string, const reader::Value*> entries_of(const reader::Value& root) {
    std::map<std::string, const reader::Value*> entries;
    for (const reader::Member& section : root.members) {
        if (section.value.kind == reader::Value::Kind::table)
            for (const reader::Member& member : section.value.members)
                entries[fmt::format("{} \"{}\"", section.key, member.key)] = &member.value;
        else if (section.key == "binding")
            for (const reader::Value& binding : section.value.items) {
                std::string name = name_of_binding(binding);
                for (int n = 2; entries.contains(name); ++n) name = fmt::format("{} ({})", name_of_binding(binding), n);
                entries[name] = &binding;
            }
        else
            entries[fmt::format("`{}`", section.key)] = &section.value;
    }
    return entries;
}

/// Returns the keys that differ between two tables.
std::string keys_between(const reader::Value& before, const reader::Value& now) {
    if (before.kind != reader::Value::Kind::table || now.kind != reader::Value::Kind::table) return "changed";
    std::vector<std::string> keys;
    for (const reader::Member& member : before.members) {
        const reader::Value* other = now.find(member.key);
        if (!other || text_of(*other) != text_of(member.value)) keys.push_back(member.key);
    }
    for (const reader::Member& member : now.members)
        if (!before.find(member.key)) keys.push_back(member.key);
    return fmt::format("{}", fmt::join(keys, ", "));
}

std::string file_of(const std::string& name, const reader::Value& value) {
    if (!name.starts_with("clip ")) return {};
    const reader::Value* file = value.kind == reader::Value::Kind::table ? value.find("file") : &value;
    return file ? file->text : "";
}

} // namespace

std::vector<std::string> project_differences(const fs::path& before, const fs::path& now) {
    const runtime::ProjectText texts[] = {runtime::read_text(before), runtime::read_text(now)};
    const auto first = runtime::parse_toml(texts[0].text), second = runtime::parse_toml(texts[1].text);
    if (!std::holds_alternative<reader::Value>(first) || !std::holds_alternative<reader::Value>(second))
        return {"one of the two kiai.toml cannot be read; run kiai check"};
    std::vector<std::string> lines;
    const auto then = entries_of(std::get<reader::Value>(first)), today = entries_of(std::get<reader::Value>(second));
    for (const auto& [name, value] : then) {
        const auto other = today.find(name);
        if (other == today.end()) {
            lines.push_back(name + ": is gone");
            continue;
        }
        if (text_of(*value) != text_of(*other->second))
            lines.push_back(fmt::format("{}: {}", name, keys_between(*value, *other->second)));
        const std::string file = file_of(name, *value), file_now = file_of(name, *other->second);
        if (!file.empty() && !file_now.empty() &&
            workshop::content_hash(before / file) != workshop::content_hash(now / file_now))
            lines.push_back(name + ": its file changed");
    }
    for (const auto& [name, value] : today)
        if (!then.contains(name)) lines.push_back(name + ": is new");
    return lines;
}

} // namespace kiai::inline v0
