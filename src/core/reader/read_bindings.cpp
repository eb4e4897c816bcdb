// Reads [[binding]]: a trigger, its conditions, and its actions.
#include "core/model/fill.h"
#include "core/reader/project_reader.h"
#include "core/reader/zone_triggers.h"

namespace kiai::reader {
namespace {

/// Returns true if the trigger ends, so that `hold` is possible.
bool ends(ReportKind trigger) {
    switch (trigger) {
    case ReportKind::press:
    case ReportKind::enter:
    case ReportKind::key_down:
    case ReportKind::contact:
    case ReportKind::watch:
    case ReportKind::scope_enter:
        return true;
    default:
        return false;
    }
}

void read_one(Draft& draft, Entry& entry, const Value& value, model::Binding& binding) {
    if (value.kind != Value::Kind::table)
        return entry.fail(FindingCode::wrong_type, value.source,
                          model::fill("an action is a table, not {}", kind_name(value.kind)),
                          "write action = { play = \"…\" }");
    Entry action(entry, value, "action", ", action");
    action.finish();
    const auto read = read_action(draft, action, value.source, ends(binding.trigger));
    if (read && action.ok()) binding.actions.push_back(*read);
    entry.close(action);
}

void read_actions(Draft& draft, Entry& entry, model::Binding& binding) {
    const Value* value = entry.any("action");
    if (!value)
        return entry.fail(FindingCode::missing_key, entry.source(), "missing key `action`",
                          "write action = { play = \"…\" }");
    if (value->kind != Value::Kind::list) return read_one(draft, entry, *value, binding);
    if (value->items.empty())
        entry.fail(FindingCode::missing_key, value->source, "the list of actions is empty",
                   "write action = { play = \"…\" }");
    for (const Value& item : value->items) read_one(draft, entry, item, binding);
}

void read_conditions(Draft& draft, Entry& entry, model::Binding& binding) {
    binding.scope = read_scope_of(draft, entry);
    binding.when = read_condition(draft, entry, "when", true);
    binding.chance = entry.number("chance").value_or(1);
    binding.once = entry.truth("once").value_or(false);
    binding.nth = entry.whole("every").value_or(1);
    binding.gap = entry.duration("gap").value_or(binding.gap);
}

} // namespace

void read_bindings(Draft& draft, const Value& section) {
    int number = 0;
    for (const Value& item : section.items) {
        draft.findings.about_binding(++number);
        const std::string what = model::fill("binding {}", number);
        model::Binding binding;
        binding.source = item.source;
        if (item.kind == Value::Kind::table) {
            Entry entry(draft.findings, item, {"binding"}, what);
            read_trigger(draft, entry, binding);
            read_actions(draft, entry, binding);
            read_conditions(draft, entry, binding);
            entry.finish();
            if (!entry.ok()) binding.actions.clear();
        } else {
            draft.findings.add(FindingCode::wrong_type, Severity::error, item.source, what + " is not a table",
                               "write [[binding]] with its keys below");
        }
        // An invalid binding keeps its place, so that the log's numbers are those of the file. Its name is empty, so no
        // trigger finds it.
        if (binding.actions.empty()) binding.name.clear(), binding.other.clear();
        draft.project.bindings.push_back(std::move(binding));
    }
    draft.findings.about_binding(0);
}

namespace {

/// Reads the value of a zone's trigger: a sound, or an action.
void read_zone_action(Draft& draft, const std::string& what, const Value& value, model::Binding& binding) {
    Value table = value;
    if (value.kind == Value::Kind::text) {
        table = {};
        table.source = value.source;
        table.members.push_back({"play", value.source, value});
    }
    if (table.kind != Value::Kind::table) {
        draft.findings.add(FindingCode::wrong_type, value.source,
                           model::fill("{} takes a sound or an action, not {}", what, kind_name(value.kind)),
                           "write press = \"…\" or press = { hold = \"…\" }", binding.in_zone);
        return;
    }
    Entry entry(draft.findings, table, {"action"}, what, binding.in_zone);
    entry.finish();
    const auto action = read_action(draft, entry, value.source, ends(binding.trigger));
    if (action && entry.ok()) binding.actions.push_back(*action);
}

} // namespace

void read_zone_bindings(Draft& draft, const Value& zones) {
    for (const Member& zone : zones.members) {
        const auto known = draft.zones.find(zone.key);
        const int index = known == draft.zones.end() ? -1 : known->second;
        for (const auto& [key, trigger] : zone_triggers) {
            const Value* value = zone.value.find(key);
            if (!value) continue;
            model::Binding binding;
            binding.trigger = trigger;
            binding.in_zone = zone.key;
            binding.source = value->source;
            draft.findings.about_binding(static_cast<int>(draft.project.bindings.size()) + 1);
            read_zone_action(draft, model::fill("zone \"{}\", {}", zone.key, key), *value, binding);
            if (index < 0) binding.actions.clear(); // the zone has an error of its own
            if (index >= 0) binding.scope = draft.project.zones[static_cast<std::size_t>(index)].scope;
            if (!binding.actions.empty()) binding.name = zone.key;
            draft.project.bindings.push_back(std::move(binding));
        }
    }
    draft.findings.about_binding(0);
}

} // namespace kiai::reader
