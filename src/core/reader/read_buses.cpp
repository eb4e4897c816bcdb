// [bus.NAME] and [dial.NAME].
#include "core/model/fill.h"
#include "core/reader/project_reader.h"

#include <algorithm>

namespace kiai::reader {
namespace {

constexpr std::size_t most_buses = 1000; // with `main`; each is mixed in every block

/// The buses that stand above one another in a circle get no sound to `main`.
void refuse_circles(Draft& draft, const Value& section) {
    auto& buses = draft.project.buses;
    for (std::size_t start = 1; start < buses.size(); ++start) {
        std::size_t steps = 0;
        for (int bus = static_cast<int>(start); bus > 0 && steps <= buses.size(); ++steps)
            bus = buses[static_cast<std::size_t>(bus)].into;
        if (steps <= buses.size()) continue;
        Entry entry(draft.findings, section, {}, model::fill("bus \"{}\"", buses[start].name), buses[start].name);
        entry.fail(FindingCode::bus_circle, buses[start].source, "the buses that it goes into lead back to it",
                   "let one of them go into main");
        buses[start].into = 0;
    }
}

} // namespace

void read_limit(Entry& entry, model::Limit& limit) {
    const Value* table = entry.table("limit");
    if (!table) return;
    Entry inner(entry, *table, "limit", ", limit");
    limit.plays = inner.whole("plays").value_or(limit.plays);
    limit.gap = inner.duration("gap").value_or(limit.gap);
    limit.full = static_cast<model::Full>(inner.word("full").value_or(0));
    inner.finish();
    entry.close(inner);
}

void read_buses(Draft& draft, const Value& section) {
    auto& buses = draft.project.buses;
    draft.buses["main"] = 0;
    for (const Member& member : section.members) // first the names, since a bus may go into a later one
        if (check_name(draft, member, "bus") && is_table(draft, member, "bus") && member.key != "main") {
            if (buses.size() == most_buses) {
                draft.findings.add(
                    FindingCode::too_many, Severity::error, member.source,
                    model::fill("bus \"{}\" is one too many: a project has at most {}", member.key, most_buses),
                    "let sounds share a bus");
                break;
            }
            draft.buses[member.key] = static_cast<int>(buses.size());
            buses.push_back({member.key, 0, 0, {0, {}, model::Full::end_oldest}, member.source});
        }
    for (const Member& member : section.members) {
        const auto found = draft.buses.find(member.key);
        if (found == draft.buses.end() || member.value.kind != Value::Kind::table) continue;
        model::Bus& bus = buses[static_cast<std::size_t>(found->second)];
        Entry entry(draft.findings, member.value, {"bus"}, model::fill("bus \"{}\"", member.key), member.key);
        bus.source = member.source;
        bus.gain = entry.number("gain").value_or(0);
        read_limit(entry, bus.limit);
        if (bus.limit.gap.value > 0)
            entry.fail(FindingCode::bad_value, member.source, "a bus has no least gap",
                       "give the gap to the sounds that are on it");
        if (const Value* into = entry.any("into")) {
            if (member.key == "main")
                entry.fail(FindingCode::bad_value, into->source, "main is the last bus", "take `into` out");
            else
                bus.into = look_up(entry, *into, draft.buses, "bus").value_or(0);
        }
        entry.finish(); // a bus with an error stays, as far as it goes: its sounds are heard
    }
    refuse_circles(draft, section);
}

void read_dials(Draft& draft, const Value& section) {
    for (const Member& member : section.members) {
        if (!check_name(draft, member, "dial")) continue;
        draft.dials[member.key] = -1;
        if (!is_table(draft, member, "dial")) continue;
        Entry entry(draft.findings, member.value, {"dial"}, model::fill("dial \"{}\"", member.key), member.key);
        model::Dial dial;
        dial.name = member.key;
        dial.source = member.source;
        if (const Value* range = entry.list("range")) {
            const auto is_number = [](const Value& value) { return value.kind == Value::Kind::number; };
            const auto& pair = range->items;
            if (pair.size() == 2 && is_number(pair[0]) && is_number(pair[1]) && pair[0].number < pair[1].number)
                dial.low = pair[0].number, dial.high = pair[1].number;
            else
                entry.fail(FindingCode::bad_value, range->source, "`range` takes its lowest and its highest",
                           "write range = [0, 1]");
        }
        const std::optional<double> start = entry.number("start");
        dial.starts = start.has_value();
        dial.start = start.value_or(dial.low);
        if (entry.ok() && (dial.start < dial.low || dial.start > dial.high))
            entry.fail(FindingCode::bad_value, member.source,
                       model::fill("`start = {}` is out of its range", dial.start),
                       model::fill("start takes {} to {}", dial.low, dial.high));
        entry.finish();
        if (!entry.ok()) continue;
        draft.dials[member.key] = static_cast<int>(draft.project.dials.size());
        draft.project.dials.push_back(std::move(dial));
    }
}

} // namespace kiai::reader
