// Reads `trigger` of a binding: one event and its keys.
#include "core/model/ascii.h"
#include "core/model/fill.h"
#include "core/model/key_codes.h"
#include "core/model/near.h"
#include "core/reader/project_reader.h"

#include <algorithm>

namespace kiai::reader {
namespace {

constexpr ReportKind trigger_kinds[] = {
    ReportKind::press,  ReportKind::release, ReportKind::enter,       ReportKind::leave,       ReportKind::key_down,
    ReportKind::key_up, ReportKind::contact, ReportKind::contact_end, ReportKind::marker,      ReportKind::watch,
    ReportKind::notice, ReportKind::start,   ReportKind::scope_enter, ReportKind::scope_leave, ReportKind::after,
    ReportKind::every,  ReportKind::ended};

void read_key_code(Entry& entry, const Value& code) {
    if (model::is_key_code(code.text)) return;
    const std::string near = model::nearest_key_code(code.text);
    entry.fail(FindingCode::unknown_key_code, code.source, model::fill("unknown key code \"{}\"", code.text),
               near.empty() ? "use the W3C code of the key: \"KeyT\", \"Space\", \"ArrowLeft\""
                            : model::fill("did you mean \"{}\"?", near));
}

/// Reads two names in a list; returns false for anything else.
bool read_pair(Entry& entry, const Value& value, const char* message, const char* example, model::Binding& binding) {
    const auto is_text = [](const Value& item) { return item.kind == Value::Kind::text; };
    const auto is_name = [](const Value& item) { return item.kind == Value::Kind::text && good_name(item.text); };
    if (value.kind == Value::Kind::list && value.items.size() == 2 &&
        std::all_of(value.items.begin(), value.items.end(), is_text) &&
        !std::all_of(value.items.begin(), value.items.end(), is_name)) {
        const Value& bad = is_name(value.items[0]) ? value.items[1] : value.items[0];
        const std::string better = model::lower(bad.text);
        entry.fail(FindingCode::bad_name, bad.source, model::fill("\"{}\" is not a name", bad.text),
                   good_name(better) ? model::fill("names are lower case: did you mean \"{}\"?", better)
                                     : "a name has the characters a-z 0-9 - _");
        return false;
    }
    if (value.kind != Value::Kind::list || value.items.size() != 2 ||
        !std::all_of(value.items.begin(), value.items.end(), is_name)) {
        entry.fail(FindingCode::bad_value, value.source, message, example);
        return false;
    }
    binding.name = value.items[0].text;
    binding.other = value.items[1].text;
    return true;
}

void read_marker(Draft& draft, Entry& entry, const Value& value, model::Binding& binding) {
    if (!read_pair(entry, value, "a marker needs its motion and its name", "write marker = [\"paddle\", \"turn\"]",
                   binding))
        return;
    const auto motion = look_up(entry, value.items[0], draft.motions, "motion");
    if (!motion) return binding.name.clear();
    std::map<std::string, int> markers;
    for (const auto& marker : draft.project.motions[static_cast<std::size_t>(*motion)].markers)
        markers[marker.name] = 0;
    look_up(entry, value.items[1], markers, "marker");
}

void read_named(Draft& draft, Entry& entry, const Value& value, model::Binding& binding) {
    const auto named = [&](const std::map<std::string, int>& known, const char* kind) {
        if (!look_up(entry, value, known, kind)) binding.name.clear();
    };
    if (value.kind != Value::Kind::text)
        return entry.fail(FindingCode::wrong_type, value.source,
                          model::fill("`{}` takes a name, not {}", to_string(binding.trigger), kind_name(value.kind)),
                          "put the name in quotes");
    binding.name = value.text;
    switch (binding.trigger) {
    case ReportKind::key_down:
    case ReportKind::key_up:
        return read_key_code(entry, value);
    case ReportKind::press:
    case ReportKind::release:
    case ReportKind::enter:
    case ReportKind::leave:
        return named(draft.zones, "zone");
    case ReportKind::scope_enter:
    case ReportKind::scope_leave:
        return named(draft.scopes, "scope");
    case ReportKind::ended:
        return named(draft.sounds, "sound or clip");
    default:
        if (!good_name(binding.name))
            entry.fail(FindingCode::bad_name, value.source, model::fill("\"{}\" cannot name a notice", binding.name),
                       "use a-z, 0-9, - and _, at most 64 of them");
    }
}

void read_what(Draft& draft, Entry& entry, const Value& value, model::Binding& binding) {
    const char* key = to_string(binding.trigger);
    switch (binding.trigger) {
    case ReportKind::contact:
    case ReportKind::contact_end:
        read_pair(entry, value, "a contact needs two kinds of bodies", "write contact = [\"marble\", \"oak\"]",
                  binding);
        return;
    case ReportKind::marker:
        return read_marker(draft, entry, value, binding);
    case ReportKind::watch:
        binding.watch = read_condition(draft, entry, key, false);
        binding.name = value.text; // the log names a watch by its condition
        return;
    case ReportKind::start:
        if (entry.truth(key) == false)
            entry.fail(FindingCode::bad_value, value.source, "`start = false` is not a trigger", "write start = true");
        binding.name = key;
        return;
    case ReportKind::after:
    case ReportKind::every:
        if (binding.trigger == ReportKind::every) {
            const auto time = entry.time_or_pair(key);
            if (!time) return;
            binding.time = time->first;
            binding.more = time->second;
        } else {
            binding.time = entry.duration(key).value_or(model::Duration{1, false});
        }
        if (binding.trigger == ReportKind::every && binding.time.value < (binding.time.in_frames ? 64 : 0.001))
            entry.fail(FindingCode::bad_value, value.source, "`every` is shorter than a millisecond",
                       "write every = \"500 ms\"");
        binding.name =
            value.kind == Value::Kind::list ? value.items[0].text + " to " + value.items[1].text : value.text;
        return;
    default:
        return read_named(draft, entry, value, binding);
    }
}

/// Reads the keys that only some triggers allow.
void read_extras(Entry& entry, model::Binding& binding) {
    const auto only_of = [&](const char* key, std::initializer_list<ReportKind> fitting) {
        if (const Value* value = entry.any(key);
            value && std::find(fitting.begin(), fitting.end(), binding.trigger) == fitting.end())
            entry.fail(FindingCode::unknown_key, value->source,
                       model::fill("`{}` does not go with {}", key, to_string(binding.trigger)), "take it out");
    };
    only_of("margin", {ReportKind::watch, ReportKind::contact, ReportKind::contact_end});
    only_of("lost", {ReportKind::release, ReportKind::key_up, ReportKind::leave, ReportKind::contact_end});
    only_of("repeat", {ReportKind::key_down});
    binding.margin = entry.number("margin").value_or(0);
    binding.lost = entry.truth("lost").value_or(false);
    binding.repeats = entry.truth("repeat").value_or(false);
}

} // namespace

void read_trigger(Draft& draft, Entry& entry, model::Binding& binding) {
    const Value* table = entry.table("trigger");
    if (!table) return entry.missing("trigger", "write trigger = { press = \"…\" }");
    Entry trigger(entry, *table, "trigger", ", trigger");
    trigger.finish();
    int found = 0;
    std::vector<std::string> known;
    for (const ReportKind kind : trigger_kinds) {
        known.emplace_back(to_string(kind));
        const Value* value = trigger.any(to_string(kind));
        if (!value) continue;
        ++found;
        binding.trigger = kind;
        read_what(draft, trigger, *value, binding);
    }
    if (found == 1)
        read_extras(trigger, binding);
    else if (trigger.ok())
        trigger.fail(FindingCode::missing_key, table->source,
                     found == 0 ? "no trigger given" : "several triggers in one table",
                     model::fill("give one of: {}", model::join(known, ", ")));
    entry.close(trigger);
}

} // namespace kiai::reader
