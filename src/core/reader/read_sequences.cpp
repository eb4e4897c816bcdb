// Reads [sequence.NAME]: actions laid out over time.
#include "core/model/fill.h"
#include "core/reader/project_reader.h"

namespace kiai::reader {
namespace {

constexpr int deepest = 8; ///< repeats within repeats

std::vector<model::Step> read_steps(Draft& draft, Entry& outer, const Value& list, int depth);

model::Step read_wait(Entry& entry, const Value& value) {
    model::Step step;
    step.kind = model::Step::Kind::wait;
    if (value.kind == Value::Kind::text && value.text == "end") {
        step.kind = model::Step::Kind::wait_for_end;
        return step;
    }
    const auto time = value.kind == Value::Kind::text ? parse_duration(value.text) : std::nullopt;
    if (value.kind == Value::Kind::list) {
        const auto random = entry.time_or_pair("wait");
        if (random) step.time = random->first, step.more = random->second;
        return step;
    }
    if (!time || (!time->in_frames && time->value > 1e6))
        entry.fail(FindingCode::bad_value, value.source, "`wait` takes a time with its unit, or \"end\"",
                   "write wait = \"0.5 s\", or wait = \"end\" to wait until the plays have ended");
    step.time = time.value_or(step.time);
    return step;
}

std::optional<model::Step> read_step(Draft& draft, Entry& entry, const Value& table, int depth) {
    const Value *wait = entry.any("wait"), *together = entry.list("together"), *steps = entry.list("steps");
    const auto repeat = entry.whole("repeat");
    const int special = (wait ? 1 : 0) + (together ? 1 : 0) + (repeat || steps ? 1 : 0);
    model::Step step;
    if (special == 0) {
        const auto action = read_action(draft, entry, table.source, false);
        if (!action) return std::nullopt;
        step.action = *action;
        return step;
    }
    if (special > 1) {
        entry.fail(FindingCode::missing_key, table.source, "several steps in one table",
                   "write one after the other: { play = \"…\" }, { wait = \"0.5 s\" }");
        return std::nullopt;
    }
    if (wait) return read_wait(entry, *wait);
    if (depth >= deepest) {
        entry.fail(FindingCode::bad_value, table.source, "steps are nested too deeply",
                   "move the inner steps into another sequence, and `run` that");
        return std::nullopt;
    }
    if (together) {
        step.kind = model::Step::Kind::together;
        for (const Value& part : together->items) {
            if (part.kind == Value::Kind::list)
                step.parts.push_back(read_steps(draft, entry, part, depth + 1));
            else
                entry.fail(FindingCode::wrong_type, part.source, "`together` takes lists of steps",
                           "write together = [[{ play = \"…\" }], [{ wait = \"1 s\" }, { play = \"…\" }]]");
        }
        return step;
    }
    step.kind = model::Step::Kind::repeat;
    step.count = repeat.value_or(1);
    if (!steps || steps->items.empty() || !repeat)
        entry.fail(FindingCode::missing_key, table.source, "a repeat needs `repeat` and `steps`",
                   "write { repeat = 2, steps = [{ play = \"…\" }, { wait = \"end\" }] }");
    else
        step.parts.push_back(read_steps(draft, entry, *steps, depth + 1));
    return step;
}

/// Returns false if the steps take no time, because an endless repeat of them would never return.
bool takes_time(const std::vector<model::Step>& steps) {
    for (const model::Step& step : steps) {
        if (step.kind == model::Step::Kind::wait && step.time.value > 0) return true;
        if (step.kind == model::Step::Kind::wait_for_end) return true;
        for (const auto& part : step.parts)
            if (takes_time(part)) return true;
    }
    return false;
}

std::vector<model::Step> read_steps(Draft& draft, Entry& outer, const Value& list, int depth) {
    std::vector<model::Step> steps;
    for (std::size_t i = 0; i < list.items.size(); ++i) {
        const Value& item = list.items[i];
        if (item.kind != Value::Kind::table) {
            outer.fail(FindingCode::wrong_type, item.source,
                       model::fill("a step is a table, not {}", kind_name(item.kind)), "write { play = \"…\" }");
            continue;
        }
        Entry entry(outer, item, {"step", "action"}, model::fill(", step {}", i + 1));
        entry.finish();
        auto step = read_step(draft, entry, item, depth);
        if (step && step->kind == model::Step::Kind::repeat && step->count == 0 && entry.ok() &&
            !takes_time(step->parts[0]))
            entry.fail(FindingCode::bad_value, item.source, "an endless repeat without a wait", "add a wait");
        outer.close(entry);
        if (step && entry.ok()) steps.push_back(std::move(*step));
    }
    return steps;
}

} // namespace

void read_sequences(Draft& draft, const Value& section) {
    for (const Member& member : section.members) // first the names, since one may run another
        if (check_name(draft, member, "sequence") && is_table(draft, member, "sequence")) {
            draft.sequences[member.key] = static_cast<int>(draft.project.sequences.size());
            draft.project.sequences.push_back({member.key, -1, {}, member.source});
        }
    for (const Member& member : section.members) {
        const auto found = draft.sequences.find(member.key);
        if (found == draft.sequences.end()) continue;
        Entry entry(draft.findings, member.value, {"sequence"}, model::fill("sequence \"{}\"", member.key), member.key);
        model::Sequence& sequence = draft.project.sequences[static_cast<std::size_t>(found->second)];
        sequence.scope = read_scope_of(draft, entry);
        const Value* steps = entry.list("steps");
        if (!steps || steps->items.empty())
            entry.missing("steps", "write steps = [{ play = \"…\" }, { wait = \"end\" }]");
        else
            sequence.steps = read_steps(draft, entry, *steps, 0);
        entry.finish();
        if (!entry.ok()) sequence.steps.clear(); // it keeps its number; running it does nothing
    }
}

} // namespace kiai::reader
