// Two states of a kiai.toml beside each other, entry by entry.
#include "files/content_hash.h"
#include "files/project_reader.h"

#include <kiai/differences.h>

#include <fmt/format.h>

#include <map>

namespace kiai::inline v0 {
namespace {

namespace fs = std::filesystem;
using files::Member;
using files::Value;

/// A value as text, without where it stands.
std::string text_of(const Value& value) {
    switch (value.kind) {
    case Value::Kind::number:
        return fmt::format("{}", value.number);
    case Value::Kind::truth:
        return value.truth ? "true" : "false";
    case Value::Kind::list: {
        std::string text = "[";
        for (const Value& item : value.items) text += text_of(item) + ',';
        return text + ']';
    }
    case Value::Kind::table: {
        std::map<std::string, std::string> members; // in any order
        for (const Member& member : value.members) members[member.key] = text_of(member.value);
        std::string text = "{";
        for (const auto& [key, one] : members) text += key + '=' + one + ',';
        return text + '}';
    }
    default:
        return '"' + value.text + '"';
    }
}

std::string inner(const Value& value) {
    std::string text;
    if (value.kind == Value::Kind::list)
        for (const Value& item : value.items) text += (text.empty() ? "" : "+") + item.text;
    return value.kind == Value::Kind::list ? text : value.text;
}

/// `contact marble+oak`: what a binding is told apart by.
std::string name_of_binding(const Value& binding) {
    const Value* trigger = binding.find("trigger");
    if (!trigger || trigger->members.empty()) return "binding";
    const Member& what = trigger->members.front();
    const std::string on = inner(what.value);
    return "binding " + what.key + (on.empty() ? "" : " " + on);
}

/// Everything that has a name, by it.
std::map<std::string, const Value*> entries_of(const Value& root) {
    std::map<std::string, const Value*> entries;
    for (const Member& section : root.members) {
        if (section.value.kind == Value::Kind::table)
            for (const Member& member : section.value.members)
                entries[fmt::format("{} \"{}\"", section.key, member.key)] = &member.value;
        else if (section.key == "binding")
            for (const Value& binding : section.value.items) {
                std::string name = name_of_binding(binding);
                for (int n = 2; entries.contains(name); ++n) name = fmt::format("{} ({})", name_of_binding(binding), n);
                entries[name] = &binding;
            }
        else
            entries[fmt::format("`{}`", section.key)] = &section.value;
    }
    return entries;
}

/// Which keys of two tables are otherwise.
std::string keys_between(const Value& before, const Value& now) {
    if (before.kind != Value::Kind::table || now.kind != Value::Kind::table) return "is otherwise";
    std::vector<std::string> keys;
    for (const Member& member : before.members) {
        const Value* other = now.find(member.key);
        if (!other || text_of(*other) != text_of(member.value)) keys.push_back(member.key);
    }
    for (const Member& member : now.members)
        if (!before.find(member.key)) keys.push_back(member.key);
    return fmt::format("{}", fmt::join(keys, ", "));
}

std::string file_of(const std::string& name, const Value& value) {
    if (!name.starts_with("clip ")) return {};
    const Value* file = value.kind == Value::Kind::table ? value.find("file") : &value;
    return file ? file->text : "";
}

} // namespace

std::vector<std::string> project_differences(const fs::path& before, const fs::path& now) {
    const files::ProjectText texts[] = {files::read_text(before), files::read_text(now)};
    const auto first = files::parse_toml(texts[0].text), second = files::parse_toml(texts[1].text);
    if (!std::holds_alternative<Value>(first) || !std::holds_alternative<Value>(second))
        return {"one of the two kiai.toml cannot be read: kiai check tells why"};
    std::vector<std::string> lines;
    const auto then = entries_of(std::get<Value>(first)), today = entries_of(std::get<Value>(second));
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
            files::content_hash(before / file) != files::content_hash(now / file_now))
            lines.push_back(name + ": its file holds something else");
    }
    for (const auto& [name, value] : today)
        if (!then.contains(name)) lines.push_back(name + ": is new");
    return lines;
}

} // namespace kiai::inline v0
