// [sound.NAME]: its layers, or the keys of its one layer; limit and loop.
#include "files/project_reader.h"
#include "files/references.h"

#include <fmt/format.h>

#include <algorithm>

namespace kiai::files {
namespace {

/// All clips NAME-1, NAME-2 …, from 0 or 1, by number.
void read_series(Draft& draft, Entry& entry, const Value& takes, model::Layer& layer) {
    Entry inner(entry, takes, "");
    const auto series = inner.text("series");
    inner.finish();
    entry.close(inner);
    if (!series) {
        if (inner.ok())
            entry.fail(FindingCode::missing_key, takes.source, "`takes` names no series",
                       "write takes = { series = \"…\" }, or a list");
        return;
    }
    std::vector<std::pair<int, int>> found; // number, clip
    for (const auto& [name, clip] : draft.clips) {
        const int number = number_in_series(name, *series);
        if (number < 0) continue;
        found.emplace_back(number, clip);
    }
    std::sort(found.begin(), found.end());
    if (found.empty())
        return entry.fail(FindingCode::empty_series, takes.source,
                          fmt::format("no clip is named \"{}-1\", \"{}-2\" …", *series, *series),
                          "register the clips of the series, or correct its name");
    for (std::size_t i = 0; i < found.size(); ++i) {
        if (found[i].second >= 0) { // else it was said where it is registered
            layer.takes.push_back(found[i].second);
            layer.weights.push_back(1);
        }
        for (int gap = i == 0 ? 1 : found[i - 1].first + 1; gap < found[i].first && gap < found[0].first + 1000; ++gap)
            entry.doubt(FindingCode::series_gap, Severity::warning, takes.source,
                        fmt::format("the series has no \"{}-{}\"", *series, gap),
                        "register it, or number the clips anew");
    }
}

void read_takes(Draft& draft, Entry& entry, model::Layer& layer) {
    const Value* takes = entry.any("takes");
    if (!takes)
        return entry.fail(FindingCode::missing_key, entry.source(), "`takes` is not there",
                          "name the clips: takes = [\"…\"]");
    if (takes->kind == Value::Kind::table) return read_series(draft, entry, *takes, layer);
    if (takes->kind != Value::Kind::list || takes->items.empty())
        return entry.fail(FindingCode::wrong_type, takes->source, "`takes` names no clips",
                          "write a list of clips, or { series = \"…\" }");
    for (const Value& item : takes->items) {
        double weight = 1;
        const Value* name = &item;
        if (item.kind == Value::Kind::table) { // { clip = "…", weight = 3 }
            Entry inner(entry, item, ", takes");
            name = inner.any("clip");
            weight = inner.number("weight", 0.001, 1000, "").value_or(1);
            inner.finish();
            if (!name)
                inner.fail(FindingCode::missing_key, item.source, "`clip` is not there",
                           "write { clip = \"…\", weight = 3 }");
            entry.close(inner);
            if (!name) continue;
        }
        if (const auto clip = look_up(entry, *name, draft.clips, "clip")) {
            layer.takes.push_back(*clip);
            layer.weights.push_back(weight);
        }
    }
}

/// One number is plus or minus it; a pair is from-to.
model::Spread read_spread(Entry& entry, const char* key, double most, const char* unit) {
    const Value* value = entry.any(key);
    if (!value) return {};
    if (value->kind != Value::Kind::list)
        return in_range(entry, *value, key, 0, most, unit) ? model::Spread{-value->number, value->number}
                                                           : model::Spread{};
    const auto& pair = value->items;
    if (pair.size() != 2) {
        entry.fail(FindingCode::bad_value, value->source, fmt::format("`{}` takes one number or two", key),
                   fmt::format("write {} = 1.0 for plus or minus, or [from, to]", key));
        return {};
    }
    if (!in_range(entry, pair[0], key, -most, most, unit) || !in_range(entry, pair[1], key, -most, most, unit))
        return {};
    return {std::min(pair[0].number, pair[1].number), std::max(pair[0].number, pair[1].number)};
}

/// One time is from nothing up to it; a pair is from-to. In seconds.
model::Spread read_times(Entry& entry, const char* key, double most_seconds) {
    const Value* value = entry.any(key);
    if (!value) return {};
    const bool pair = value->kind == Value::Kind::list && value->items.size() == 2;
    double seconds[2] = {};
    for (std::size_t i = 0; i < (pair ? 2u : 1u); ++i) {
        const Value& one = pair ? value->items[i] : *value;
        const auto time = one.kind == Value::Kind::text ? parse_duration(one.text) : std::nullopt;
        if (!time || time->in_frames || time->value > most_seconds) {
            entry.fail(
                FindingCode::bad_value, one.source, fmt::format("`{}` takes a time, or two, in ms or s", key),
                fmt::format("write {0} = \"20 ms\" or {0} = [\"5 ms\", \"20 ms\"], at most {1} s", key, most_seconds));
            return {};
        }
        seconds[pair ? i : 1] = time->value;
    }
    return {std::min(seconds[0], seconds[1]), std::max(seconds[0], seconds[1])};
}

model::Vary read_vary(Entry& entry) {
    model::Vary vary;
    const Value* table = entry.table("vary");
    if (!table) return vary;
    Entry inner(entry, *table, ", vary");
    vary.pitch = read_spread(inner, "pitch", 24, "semitones");
    vary.gain = read_spread(inner, "gain", 60, "dB");
    vary.pan = read_spread(inner, "pan", 1, "(left to right)");
    vary.start = read_times(inner, "start", 3600);
    vary.delay = read_times(inner, "delay", 10);
    vary.bell = inner.word("spread", {"even", "bell"}).value_or(0) == 1;
    inner.finish();
    entry.close(inner);
    return vary;
}

void read_curve(Entry& entry, model::Follow& follow) {
    const Value* curve = entry.list("curve");
    if (!curve) {
        if (entry.ok())
            entry.fail(FindingCode::missing_key, entry.source(), "`curve` is not there",
                       "write curve = [[0, -36], [1, 0]]");
        return;
    }
    static const struct {
        double low, high;
        const char* unit;
    } ranges[] = {{-120, 24, "dB"}, {-48, 48, "semitones"}, {-1, 1, "(left to right)"}};
    const auto& range = ranges[static_cast<std::size_t>(follow.moves)];
    for (const Value& point : curve->items) {
        if (point.kind != Value::Kind::list || point.items.size() != 2)
            return entry.fail(FindingCode::bad_value, point.source, "a point of a curve is a pair",
                              "write curve = [[0, -36], [1, 0]]");
        if (!in_range(entry, point.items[0], "curve", -1e6, 1e6, "") ||
            !in_range(entry, point.items[1], "curve", range.low, range.high, range.unit))
            return;
        if (!follow.curve.empty() && point.items[0].number <= follow.curve.back().first)
            return entry.fail(FindingCode::bad_value, point.source, "the points of a curve do not ascend",
                              "order them by their first number");
        follow.curve.emplace_back(point.items[0].number, point.items[1].number);
    }
    if (follow.curve.size() < 2)
        entry.fail(FindingCode::bad_value, curve->source, "a curve has fewer than two points",
                   "write curve = [[0, -36], [1, 0]]");
}

void read_follows(Entry& entry, model::Layer& layer) {
    const Value* list = entry.list("follow");
    if (!list) return;
    for (const Value& item : list->items) {
        if (item.kind != Value::Kind::table)
            return entry.fail(
                FindingCode::wrong_type, item.source, "`follow` holds something else than tables",
                "write follow = [{ value = \"strength\", moves = \"gain\", curve = [[0, -36], [1, 0]] }]");
        Entry inner(entry, item, ", follow");
        model::Follow follow;
        for (const char* key : {"value", "moves"})
            if (!item.find(key))
                inner.fail(FindingCode::missing_key, item.source, fmt::format("`{}` is not there", key),
                           "a follow has value, moves and curve");
        follow.value = static_cast<model::Value>(inner.word("value", {"strength", "place"}).value_or(0));
        follow.moves = static_cast<model::Moves>(inner.word("moves", {"gain", "pitch", "pan"}).value_or(0));
        read_curve(inner, follow);
        inner.finish();
        entry.close(inner);
        layer.follows.push_back(std::move(follow));
    }
}

/// The keys that a layer has, which stand on the sound itself where it has one layer. Gain, pitch and pan are asked for
/// by the caller.
model::Layer read_layer(Draft& draft, Entry& entry) {
    model::Layer layer;
    read_takes(draft, entry, layer);
    layer.pick = static_cast<model::Pick>(entry.word("pick", {"shuffle", "weighted", "cycle"}).value_or(0));
    layer.start = entry.duration("start", 3600).value_or(layer.start);
    layer.delay = entry.duration("delay", 60).value_or(layer.delay);
    layer.chance = entry.number("chance", 0, 1, "").value_or(1);
    layer.vary = read_vary(entry);
    read_follows(entry, layer);
    return layer;
}

void read_levels(Entry& entry, double& gain, double& pitch, double& pan) {
    gain = entry.number("gain", -120, 24, "dB").value_or(0);
    pitch = entry.number("pitch", -48, 48, "semitones").value_or(0);
    pan = entry.number("pan", -1, 1, "(left to right)").value_or(0);
}

void read_limit(Entry& entry, model::Limit& limit) {
    const Value* table = entry.table("limit");
    if (!table) return;
    Entry inner(entry, *table, ", limit");
    limit.plays = inner.whole("plays", 1, 1000).value_or(limit.plays);
    limit.gap = inner.duration("gap", 3600).value_or(limit.gap);
    limit.full = static_cast<model::Full>(inner.word("full", {"end-oldest", "refuse"}).value_or(0));
    inner.finish();
    entry.close(inner);
}

void read_layers(Draft& draft, Entry& entry, const Value& list, model::Sound& sound) {
    if (list.kind != Value::Kind::list || list.items.empty())
        return entry.fail(FindingCode::wrong_type, list.source, "`layer` is not a list of tables",
                          fmt::format("write [[sound.{}.layer]]", sound.name));
    for (const Value& item : list.items) {
        if (item.kind != Value::Kind::table)
            return entry.fail(FindingCode::wrong_type, item.source, "a layer is not a table",
                              fmt::format("write [[sound.{}.layer]]", sound.name));
        Entry inner(entry, item, fmt::format(", layer {}", sound.layers.size() + 1));
        model::Layer layer = read_layer(draft, inner);
        read_levels(inner, layer.gain, layer.pitch, layer.pan);
        inner.finish();
        entry.close(inner);
        sound.layers.push_back(std::move(layer));
    }
}

void read_sound(Draft& draft, const Member& member) {
    Entry entry(draft.findings, member.value, fmt::format("sound \"{}\"", member.key), member.key);
    model::Sound sound;
    sound.name = member.key;
    sound.source = member.source;
    read_levels(entry, sound.gain, sound.pitch, sound.pan);
    sound.endless = entry.truth("loop").value_or(false);
    sound.fade_in = entry.duration("fade-in", 60).value_or(sound.fade_in);
    sound.fade_out = entry.duration("fade-out", 60).value_or(sound.fade_out);
    read_limit(entry, sound.limit);
    const Value* layers = entry.any("layer");
    if (entry.truth("pending").value_or(false) && !layers && !member.value.find("takes")) {
        if (entry.ok()) draft.project.pending.push_back({"sound", member.key, member.source});
        return;
    }
    if (layers) {
        sound.vary = read_vary(entry); // of all of them alike
        read_layers(draft, entry, *layers, sound);
    } else
        sound.layers.push_back(read_layer(draft, entry));
    entry.finish();
    // A take that was left out for an error of its own takes no other with it, but a layer without takes cannot play.
    const bool playable = std::all_of(sound.layers.begin(), sound.layers.end(),
                                      [](const model::Layer& layer) { return !layer.takes.empty(); });
    if (!entry.ok() || !playable) return;
    draft.sounds[member.key] = static_cast<int>(draft.project.sounds.size());
    draft.project.sounds.push_back(std::move(sound));
}

} // namespace

void read_sounds(Draft& draft, const Value& section) {
    for (const Member& member : section.members) {
        if (!check_name(draft, member, "sound")) continue;
        draft.sounds[member.key] = -1;
        if (is_table(draft, member, "sound")) read_sound(draft, member);
    }
}

} // namespace kiai::files
