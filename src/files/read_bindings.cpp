// [[binding]]: a trigger and its actions.
#include "files/project_reader.h"
#include "model/key_codes.h"
#include "model/near.h"

#include <fmt/format.h>

#include <algorithm>

namespace kiai::files {
namespace {

void read_key_code(Entry& entry, const Value& code) {
    const auto& known = model::key_codes();
    if (std::find(known.begin(), known.end(), code.text) != known.end()) return;
    std::string near = model::nearest(code.text, known);
    if (code.text.size() == 1) near = model::nearest("Key" + code.text, known);
    entry.fail(FindingCode::unknown_key_code, code.source, fmt::format("no key has the code \"{}\"", code.text),
               near.empty() ? "use the W3C code of the key: \"KeyT\", \"Space\", \"ArrowLeft\""
                            : fmt::format("did you mean \"{}\"?", near));
}

void read_contact(Entry& entry, const Value& kinds, model::Binding& binding) {
    const auto is_name = [](const Value& item) { return item.kind == Value::Kind::text && good_name(item.text); };
    if (kinds.kind != Value::Kind::list || kinds.items.size() != 2 ||
        !std::all_of(kinds.items.begin(), kinds.items.end(), is_name))
        return entry.fail(FindingCode::bad_value, kinds.source, "a contact is between two kinds of body",
                          "write contact = [\"marble\", \"oak\"]");
    binding.name = kinds.items[0].text;
    binding.other = kinds.items[1].text;
}

void read_trigger(Draft& draft, Entry& entry, model::Binding& binding) {
    const Value* table = entry.table("trigger");
    if (!table) {
        if (entry.ok())
            entry.fail(FindingCode::missing_key, entry.source(), "`trigger` is not there",
                       "write trigger = { press = \"…\" }");
        return;
    }
    static const std::vector<std::string> known{"press", "key-down", "contact", "notice"};
    static constexpr ReportKind kinds[] = {ReportKind::press, ReportKind::key_down, ReportKind::contact,
                                           ReportKind::notice};
    Entry trigger(entry, *table, "trigger", ", trigger");
    int found = 0;
    for (std::size_t i = 0; i < known.size(); ++i) {
        const Value* value = trigger.any(known[i].c_str());
        if (!value) continue;
        ++found;
        binding.trigger = kinds[i];
        if (binding.trigger == ReportKind::contact) {
            read_contact(trigger, *value, binding);
            continue;
        }
        if (value->kind != Value::Kind::text) {
            trigger.fail(FindingCode::wrong_type, value->source,
                         fmt::format("`{}` takes a name, not {}", known[i], kind_name(value->kind)),
                         "put the name in quotes");
            continue;
        }
        binding.name = value->text;
        if (binding.trigger == ReportKind::key_down) read_key_code(trigger, *value);
        if (binding.trigger == ReportKind::press && !look_up(trigger, *value, draft.zones, "zone"))
            binding.name.clear();
        if (binding.trigger == ReportKind::notice && !good_name(binding.name))
            trigger.fail(FindingCode::bad_name, value->source, fmt::format("\"{}\" cannot name a notice", binding.name),
                         "use a-z, 0-9, - and _, at most 64 of them");
    }
    trigger.finish();
    if (trigger.ok() && found != 1)
        trigger.fail(FindingCode::missing_key, table->source,
                     found == 0 ? "it names no trigger" : "it names several triggers",
                     fmt::format("give one of: {}", fmt::join(known, ", ")));
    entry.close(trigger);
}

void read_action(Draft& draft, Entry& entry, const Value& value, model::Binding& binding) {
    if (value.kind != Value::Kind::table)
        return entry.fail(FindingCode::wrong_type, value.source,
                          fmt::format("an action is a table, not {}", kind_name(value.kind)),
                          "write action = { play = \"…\" }");
    Entry action(entry, value, "action", ", action");
    const Value *play = action.any("play"), *stop = action.any("stop");
    action.finish();
    if (action.ok() && (play != nullptr) == (stop != nullptr))
        action.fail(FindingCode::missing_key, value.source, play ? "it names two actions" : "it names no action",
                    "write { play = \"…\" } or { stop = \"…\" }; several actions stand in a list");
    else if (action.ok())
        if (const auto sound = look_up(action, play ? *play : *stop, draft.sounds, "sound or clip"))
            binding.actions.push_back({play ? ReportKind::play : ReportKind::stop, *sound});
    entry.close(action);
}

void read_actions(Draft& draft, Entry& entry, model::Binding& binding) {
    const Value* value = entry.any("action");
    if (!value)
        return entry.fail(FindingCode::missing_key, entry.source(), "`action` is not there",
                          "write action = { play = \"…\" }");
    if (value->kind != Value::Kind::list) return read_action(draft, entry, *value, binding);
    if (value->items.empty())
        entry.fail(FindingCode::missing_key, value->source, "the list of actions is empty",
                   "write action = { play = \"…\" }");
    for (const Value& item : value->items) read_action(draft, entry, item, binding);
}

} // namespace

void read_bindings(Draft& draft, const Value& section) {
    int number = 0;
    for (const Value& item : section.items) {
        ++number;
        const std::string what = fmt::format("binding {}", number);
        model::Binding binding;
        binding.source = item.source;
        if (item.kind == Value::Kind::table) {
            Entry entry(draft.findings, item, {"binding"}, what);
            read_trigger(draft, entry, binding);
            read_actions(draft, entry, binding);
            entry.finish();
            if (!entry.ok()) binding.actions.clear();
        } else {
            draft.findings.add(FindingCode::wrong_type, Severity::error, item.source, what + " is not a table",
                               "write [[binding]] with its keys below");
        }
        // One that cannot be used keeps its place, so that the log's numbers are those of the file; its name is empty
        // and no trigger finds it.
        if (binding.actions.empty()) binding.name.clear(), binding.other.clear();
        draft.project.bindings.push_back(std::move(binding));
    }
}

} // namespace kiai::files
