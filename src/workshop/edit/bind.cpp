// Adds and removes bindings.
#include <kiai/workshop/bind.h>

#include "core/model/near.h"
#include "core/reader/zone_triggers.h"
#include "runtime/project/parse_toml.h"
#include "workshop/edit/binding_words.h"
#include "workshop/edit/editing.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <charconv>
#include <optional>
#include <set>

namespace kiai::inline v0 {
namespace {

using namespace workshop;
using reader::Value;

/// One binding of kiai.toml, in either form.
struct WrittenBinding {
    Place place;            ///< of the `[[binding]]`, or of the key in its zone
    std::string trigger;    ///< `press`
    Value trigger_value;    ///< of its key
    const Value* keys = {}; ///< of the `[[binding]]`; null: inside a zone
    Value action;           ///< a table, or a list of tables
    int line = 0;
};

Value text_value(const std::string& text) {
    Value value;
    value.kind = Value::Kind::text;
    value.text = text;
    return value;
}

/// Returns the action of a key inside a zone as a table.
Value action_of(const Value& value) {
    if (value.kind != Value::Kind::text) return value;
    Value table;
    table.members.push_back({"play", value.source, value});
    return table;
}

/// Returns all bindings, in the order of their numbers in the log.
std::vector<WrittenBinding> all_bindings(const Value& root) {
    std::vector<WrittenBinding> all;
    const Value* list = root.find("binding");
    for (std::size_t i = 0; list && i < list->items.size(); ++i) {
        const Value& item = list->items[i];
        WrittenBinding one{{std::string("binding"), i}, {}, {}, &item, {}, item.source.line};
        const Value* trigger = item.find("trigger");
        for (std::size_t m = 0; trigger && m < trigger->members.size() && one.trigger.empty(); ++m) {
            const std::string& key = trigger->members[m].key;
            if (key == "margin" || key == "lost" || key == "repeat") continue;
            one.trigger = key;
            one.trigger_value = trigger->members[m].value;
        }
        if (const Value* action = item.find("action")) one.action = *action;
        all.push_back(std::move(one));
    }
    const Value* zones = root.find("zone");
    for (std::size_t z = 0; zones && z < zones->members.size(); ++z)
        for (const auto& [key, kind] : reader::zone_triggers)
            if (const Value* value = zones->members[z].value.find(key)) {
                const std::string& zone = zones->members[z].key;
                all.push_back({{std::string("zone"), zone, std::string(key)},
                               key,
                               text_value(zone),
                               nullptr,
                               action_of(*value),
                               value->source.line});
            }
    return all;
}

Value parsed(const std::string& toml) {
    auto read = runtime::parse_toml(toml);
    const auto* value = std::get_if<Value>(&read);
    return value ? *value : Value{};
}

/// Returns true if a written binding has this trigger. The kinds of a contact may come in either order.
bool has_trigger(const WrittenBinding& written, const std::string& trigger, const Value& value) {
    if (written.trigger != trigger) return false;
    if (same_meaning(written.trigger_value, value)) return true;
    const bool pair = trigger == "contact" || trigger == "contact-end";
    if (!pair || value.items.size() != 2 || written.trigger_value.items.size() != 2) return false;
    return same_meaning(written.trigger_value.items[0], value.items[1]) &&
           same_meaning(written.trigger_value.items[1], value.items[0]);
}

/// Returns true if the table does what the words name; its settings may differ.
bool does(const Value& action, const std::string& verb, const Value& named) {
    const Value* value = action.find(verb);
    return value && same_meaning(*value, named);
}

/// Returns the errors of a project.
std::vector<Finding> errors_of(const std::filesystem::path& folder, const Value& root) {
    std::vector<Finding> findings = read_entries(folder, root).findings;
    std::erase_if(findings, [](const Finding& finding) { return finding.severity != Severity::error; });
    return findings;
}

void refuse_words(EditResult& edited, const std::filesystem::path& folder, const WordedBinding& read) {
    refuse(edited, folder, FindingCode::bad_value, {}, read.problem, read.fix);
}

/// Writes the binding, unless the project has the same.
void add(Document& toml, const WordedBinding& read, EditResult& edited) {
    std::string text = fmt::format("trigger = {}\naction = {}\n", trigger_table(read), action_table(read));
    for (const auto& [key, value] : read.of_binding) text += fmt::format("{} = {}\n", key, value);
    const Value wanted = parsed(text);
    const std::vector<WrittenBinding> all = all_bindings(toml.root());
    for (std::size_t i = 0; i < all.size(); ++i) {
        const WrittenBinding& one = all[i];
        const bool same = one.keys ? same_meaning(*one.keys, wanted)
                                   : !read.names.empty() && has_trigger(one, read.trigger, text_value(read.names[0])) &&
                                         read.of_binding.empty() && read.of_trigger.empty() &&
                                         same_meaning(one.action, *wanted.find("action"));
        if (same) {
            edited.remarks.push_back(one.keys ? fmt::format("already bound: binding {} in line {}", i + 1, one.line)
                                              : fmt::format("already bound: line {}", one.line));
            return;
        }
    }
    const Value* zones = toml.root().find("zone");
    const Value* zone = zones && read.names.size() == 1 ? zones->find(read.names[0]) : nullptr;
    const bool of_pointer = std::any_of(std::begin(reader::zone_triggers), std::end(reader::zone_triggers),
                                        [&](const auto& one) { return one.first == read.trigger; });
    if (of_pointer && zone && !zone->find(read.trigger) && read.of_binding.empty() && read.of_trigger.empty()) {
        const bool short_form = read.verb == "play" && read.of_action.empty();
        return toml.add({std::string("zone"), read.names[0]},
                        {{read.trigger, short_form ? read.action_value : action_table(read)}});
    }
    toml.append("[[binding]]\n" + text);
}

/// Removes the binding, or the one of its actions that the words name. Returns false if they name another.
bool take_out(Document& toml, const WrittenBinding& one, const std::string& verb, const Value& named) {
    if (verb.empty()) {
        toml.remove(one.place);
        return true;
    }
    if (one.action.kind != Value::Kind::list) {
        if (!does(one.action, verb, named)) return false;
        toml.remove(one.place);
        return true;
    }
    for (std::size_t i = one.action.items.size(); i-- > 0;) {
        if (!does(one.action.items[i], verb, named)) continue;
        Place place = one.place;
        if (one.action.items.size() > 1) place.insert(place.end(), {std::string("action"), i});
        toml.remove(place);
        return true;
    }
    return false;
}

/// Returns the number if the words are one and nothing else.
std::optional<std::size_t> number_in(const std::vector<std::string>& words) {
    if (words.size() != 1) return std::nullopt;
    const char* const end = words[0].data() + words[0].size();
    std::size_t number = 0;
    const auto read = std::from_chars(words[0].data(), end, number);
    return read.ec == std::errc() && read.ptr == end ? std::optional(number) : std::nullopt;
}

} // namespace

EditResult bind(const std::filesystem::path& folder, const BindingWords& words, const BindOptions& options) {
    const auto edit = options.dry_run ? try_edit : edit_project;
    return edit(folder, [&](Document& toml, EditResult& edited) {
        const WordedBinding read = read_words(words, true);
        if (!read.problem.empty()) return refuse_words(edited, folder, read);
        std::multiset<std::string> before; // errors that the project has already are not the binding's
        for (const Finding& finding : errors_of(folder, toml.root())) before.insert(finding.message);
        add(toml, read, edited);
        for (const Finding& finding : errors_of(folder, toml.root())) {
            if (const auto known = before.find(finding.message); known != before.end())
                before.erase(known);
            else
                refuse(edited, folder, finding.code, {}, finding.message, finding.fix);
        }
    });
}

EditResult unbind(const std::filesystem::path& folder, const std::vector<std::string>& words,
                  const BindOptions& options) {
    const auto edit = options.dry_run ? try_edit : edit_project;
    return edit(folder, [&](Document& toml, EditResult& edited) {
        const std::vector<WrittenBinding> all = all_bindings(toml.root());
        if (const std::optional<std::size_t> given = number_in(words)) {
            const std::size_t number = *given;
            if (number >= 1 && number <= all.size()) return toml.remove(all[number - 1].place);
            return refuse(edited, folder, FindingCode::unknown_name, {}, fmt::format("unknown binding {}", number),
                          all.empty() ? "the project has no bindings"
                                      : fmt::format("use a number from 1 to {}", all.size()));
        }
        const WordedBinding read = read_words({words}, false);
        if (!read.problem.empty()) return refuse_words(edited, folder, read);
        const Value values = parsed(fmt::format("trigger = {}\naction = {}\n", read.trigger_value,
                                                read.verb.empty() ? "true" : read.action_value));
        bool found = false;
        for (auto one = all.rbegin(); one != all.rend(); ++one) // from the end, so that earlier places stay
            if (has_trigger(*one, read.trigger, *values.find("trigger")))
                found = take_out(toml, *one, read.verb, *values.find("action")) || found;
        if (found) return;
        std::vector<std::string> names;
        for (const WrittenBinding& one : all)
            if (one.trigger == read.trigger) names.push_back(one.trigger_value.text);
        const std::string near = read.names.empty() ? std::string() : model::nearest(read.names[0], names);
        refuse(edited, folder, FindingCode::unknown_name, {}, fmt::format("no binding is {}", fmt::join(words, " ")),
               near.empty() || near == read.names[0] ? "`kiai list bindings` prints all"
                                                     : fmt::format("did you mean \"{}\"?", near));
    });
}

} // namespace kiai::inline v0
