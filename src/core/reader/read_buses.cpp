// Reads [bus.NAME] and [dial.NAME].
#include "core/model/fill.h"
#include "core/reader/project_reader.h"

#include <algorithm>

namespace kiai::reader {
namespace {

constexpr std::size_t most_buses = 1000; // with `main`; each is mixed in every block

/// Reports buses whose parents form a circle, because they never reach `main`.
void refuse_circles(Draft& draft, const Value& section) {
    auto& buses = draft.project.buses;
    for (std::size_t start = 1; start < buses.size(); ++start) {
        std::size_t steps = 0;
        for (int bus = static_cast<int>(start); bus > 0 && steps <= buses.size(); ++steps)
            bus = buses[static_cast<std::size_t>(bus)].into;
        if (steps <= buses.size()) continue;
        Entry entry(draft.findings, section, {}, model::fill("bus \"{}\"", buses[start].name), buses[start].name);
        entry.fail(FindingCode::bus_circle, buses[start].source, "the parents of this bus form a circle",
                   "write into = \"main\" in one of them");
        buses[start].into = 0;
    }
}

/// Returns true if `bus` is `above` or goes into it.
bool goes_into(const std::vector<model::Bus>& buses, int bus, int above) {
    for (; bus >= 0; bus = buses[static_cast<std::size_t>(bus)].into)
        if (bus == above) return true;
    return false;
}

constexpr const char* duck_example = "write duck = { under = \"signals\", gain = -6 }";

void read_duck(Draft& draft, Entry& entry, const Value& value, std::vector<model::Duck>& ducks) {
    if (value.kind != Value::Kind::table)
        return entry.fail(FindingCode::wrong_type, value.source, "`duck` is neither a table nor a list of tables",
                          duck_example);
    Entry inner(entry, value, "duck", ", duck");
    model::Duck duck;
    const Value* under = inner.any("under");
    if (under)
        duck.under = look_up(inner, *under, draft.buses, "bus").value_or(-1);
    else
        inner.missing("under", duck_example);
    if (const auto gain = inner.number("gain"))
        duck.gain = *gain;
    else
        inner.missing("gain", duck_example);
    duck.attack = inner.duration("attack").value_or(duck.attack);
    duck.release = inner.duration("release").value_or(duck.release);
    inner.finish();
    entry.close(inner);
    if (inner.ok()) ducks.push_back(duck);
}

/// A bus must not be ducked under its own parent or child, because it would duck itself.
void refuse_ducks_under_themselves(Draft& draft, const Value& section) {
    auto& buses = draft.project.buses;
    for (std::size_t b = 0; b < buses.size(); ++b)
        std::erase_if(buses[b].ducks, [&](const model::Duck& duck) {
            const int bus = static_cast<int>(b);
            if (!goes_into(buses, duck.under, bus) && !goes_into(buses, bus, duck.under)) return false;
            const std::string& name = buses[b].name;
            Entry entry(draft.findings, section, {}, model::fill("bus \"{}\"", name), name);
            entry.fail(FindingCode::bad_value, buses[b].source,
                       model::fill("cannot be ducked under \"{}\", which is on its own path to main",
                                   buses[static_cast<std::size_t>(duck.under)].name),
                       "duck it under a bus on another path");
            return true;
        });
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
                draft.findings.add(FindingCode::too_many, Severity::error, member.source,
                                   model::fill("bus \"{}\" exceeds the maximum of {} buses", member.key, most_buses),
                                   "put several sounds on one bus");
                break;
            }
            draft.buses[member.key] = static_cast<int>(buses.size());
            model::Bus& bus = buses.emplace_back();
            bus.name = member.key;
            bus.into = 0;
            bus.source = member.source;
        }
    for (const Member& member : section.members) {
        const auto found = draft.buses.find(member.key);
        if (found == draft.buses.end() || member.value.kind != Value::Kind::table) continue;
        model::Bus& bus = buses[static_cast<std::size_t>(found->second)];
        Entry entry(draft.findings, member.value, {"bus"}, model::fill("bus \"{}\"", member.key), member.key);
        bus.source = member.source;
        bus.gain = entry.number("gain").value_or(0);
        read_cutoffs(entry, bus.cutoffs);
        bus.follows = read_follows(draft, entry, FollowsOf::bus);
        if (const Value* duck = entry.any("duck")) {
            if (duck->kind == Value::Kind::list)
                for (const Value& one : duck->items) read_duck(draft, entry, one, bus.ducks);
            else
                read_duck(draft, entry, *duck, bus.ducks);
        }
        read_limit(entry, bus.limit);
        if (const Value* into = entry.any("into")) {
            if (member.key == "main")
                entry.fail(FindingCode::bad_value, into->source, "main has no parent", "remove `into`");
            else
                bus.into = look_up(entry, *into, draft.buses, "bus").value_or(0);
        }
        entry.finish(); // a bus with an error stays, as far as it goes: its sounds are heard
    }
    refuse_circles(draft, section);
    refuse_ducks_under_themselves(draft, section);
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
                entry.fail(FindingCode::bad_value, range->source, "`range` takes a minimum and a maximum",
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
