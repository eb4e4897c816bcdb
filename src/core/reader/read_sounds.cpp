// Reads [sound.NAME]: its layers, or the keys of its only layer.
#include "core/model/fill.h"
#include "core/model/near.h"
#include "core/reader/project_reader.h"
#include "core/reader/series.h"

#include <algorithm>
#include <utility>

namespace kiai::reader {
namespace {

/// Reads a series: all clips NAME-1, NAME-2 …, from 0 or 1, by number.
void read_series(Draft& draft, Entry& entry, const Value& takes, model::Layer& layer) {
    Entry inner(entry, takes, "series", "");
    const auto series = inner.text("series");
    inner.finish();
    entry.close(inner);
    if (!series) {
        if (inner.ok())
            entry.fail(FindingCode::missing_key, takes.source, "missing series",
                       "write takes = { series = \"…\" }, or a list");
        return;
    }
    std::vector<std::pair<int, int>> found; // number, clip
    for (const auto& [name, clip] : draft.clips) {
        const int number = number_in_series(name, *series);
        if (number < 0) continue;
        found.emplace_back(number, clip);
    }
    layer.series = true;
    std::sort(found.begin(), found.end());
    if (found.empty()) {
        std::vector<std::string> all;
        for (const auto& [name, clip] : draft.clips)
            if (const std::string own = series_of(name); !own.empty() && (all.empty() || all.back() != own))
                all.push_back(own);
        const std::string near = model::nearest(*series, all);
        return entry.fail(FindingCode::empty_series, takes.source,
                          model::fill("no clip is named \"{}-1\", \"{}-2\" …", *series, *series),
                          near.empty() ? "register the clips of the series, or correct the name"
                                       : model::fill("did you mean \"{}\"?", near));
    }
    for (std::size_t i = 0; i < found.size(); ++i) {
        if (found[i].second >= 0) { // else it was said where it is registered
            layer.takes.push_back(found[i].second);
            layer.weights.push_back(1);
        }
        for (int gap = i == 0 ? 1 : found[i - 1].first + 1; gap < found[i].first && gap < found[0].first + 1000; ++gap)
            entry.doubt(FindingCode::series_gap, Severity::warning, takes.source,
                        model::fill("the series has no \"{}-{}\"", *series, gap),
                        "register the missing file, or renumber the clips");
    }
}

void read_takes(Draft& draft, Entry& entry, model::Layer& layer) {
    const Value* takes = entry.any("takes");
    if (!takes)
        return entry.fail(FindingCode::missing_key, entry.source(), "missing key `takes`",
                          "name the clips: takes = [\"…\"]");
    if (takes->kind == Value::Kind::table) return read_series(draft, entry, *takes, layer);
    if (takes->kind != Value::Kind::list || takes->items.empty())
        return entry.fail(FindingCode::wrong_type, takes->source, "missing clips",
                          "write a list of clips, or { series = \"…\" }");
    for (const Value& item : takes->items) {
        double weight = 1;
        const Value* name = &item;
        if (item.kind == Value::Kind::table) { // { clip = "…", weight = 3 }
            Entry inner(entry, item, "take", ", takes");
            name = inner.any("clip");
            weight = inner.number("weight").value_or(1);
            inner.finish();
            if (!name)
                inner.fail(FindingCode::missing_key, item.source, "missing key `clip`",
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

model::Vary read_vary(Entry& entry) {
    model::Vary vary;
    const Value* table = entry.table("vary");
    if (!table) return vary;
    Entry inner(entry, *table, "vary", ", vary");
    vary.pitch = inner.spread("pitch");
    vary.gain = inner.spread("gain");
    vary.pan = inner.spread("pan");
    vary.start = inner.times("start");
    vary.delay = inner.times("delay");
    vary.bell = inner.word("distribution").value_or(0) == 1;
    inner.finish();
    entry.close(inner);
    return vary;
}

/// Reports doubts about a loop in one of its clips.
void check_loop(Entry& entry, const model::Loop& loop, const Value& value, const model::Clip& clip) {
    const auto& loops = clip.loops();
    const Frames frames = clip.frames();
    const int rate = clip.rate();
    if (loop.points && loops.empty())
        entry.doubt(FindingCode::no_loop_points, Severity::warning, value.source,
                    model::fill("the file of clip \"{}\" has no loop; the whole clip is looped", clip.name),
                    "set the loop points in the file, or write from and to");
    const Frames from = loop.from.frames(rate), to = loop.to.value > 0 ? loop.to.frames(rate) : frames;
    if (!loop.points && (to > frames || from >= to))
        entry.doubt(FindingCode::loop_outside, Severity::warning, value.source,
                    from >= to ? model::fill("the loop in clip \"{}\" ends before its start", clip.name)
                               : model::fill("clip \"{}\" ends after {} s, before the end of the loop", clip.name,
                                             model::fixed(static_cast<double>(frames) / rate, 3)),
                    "move `from` and `to` into the clip");
}

model::Loop read_loop(Entry& entry) {
    model::Loop loop;
    const Value* value = entry.any("loop");
    if (!value) return loop;
    if (value->kind == Value::Kind::truth) {
        loop.on = value->truth;
        return loop;
    }
    if (value->kind != Value::Kind::table) {
        entry.fail(FindingCode::wrong_type, value->source,
                   model::fill("`loop` takes true, false or a table, not {}", kind_name(value->kind)),
                   "write loop = true, or loop = { from = \"0.2 s\", to = \"1.7 s\" }");
        return loop;
    }
    Entry inner(entry, *value, "loop", ", loop");
    loop.points = inner.word("points").has_value();
    loop.from = inner.duration("from").value_or(loop.from);
    loop.to = inner.duration("to").value_or(loop.to);
    loop.count = inner.whole("count").value_or(0);
    loop.crossfade = inner.duration("crossfade").value_or(loop.crossfade);
    loop.tail = inner.word("end").value_or(0) == 1;
    if (loop.points && (loop.from.value > 0 || loop.to.value > 0))
        inner.fail(FindingCode::bad_value, value->source, "both `points` and `from`, `to` are given",
                   "remove `points`, or `from` and `to`");
    inner.finish();
    entry.close(inner);
    loop.on = inner.ok(); // of a wrong one nothing more is said
    return loop;
}

void read_levels(Entry& entry, double& gain, double& pitch, double& pan) {
    gain = entry.number("gain").value_or(0);
    pitch = entry.number("pitch").value_or(0);
    pan = entry.number("pan").value_or(0);
}

/// Reads the keys of a layer, which are written in the sound if it has only one layer.
void read_own_keys(Draft& draft, Entry& entry, model::Layer& layer) {
    read_takes(draft, entry, layer);
    layer.pick = static_cast<model::Pick>(entry.word("pick").value_or(0));
    layer.repeats = entry.truth("repeats").value_or(true);
    if (const Value* repeats = entry.any("repeats"); !layer.repeats && layer.pick != model::Pick::weighted)
        entry.fail(FindingCode::unknown_key, repeats->source, "`repeats` needs `pick = \"weighted\"`",
                   "remove `repeats`");
    layer.label = entry.text("label").value_or("");
    if (layer.label.size() > 64)
        entry.fail(FindingCode::bad_name, entry.any("label")->source, "the label is too long", "use at most 64 bytes");
    layer.start = entry.duration("start").value_or(layer.start);
    layer.delay = entry.duration("delay").value_or(layer.delay);
    layer.chance = entry.number("chance").value_or(1);
    read_cutoffs(entry, layer.cutoffs);
}

void read_layers(Draft& draft, Entry& entry, const Value& list, const model::Loop& whole, model::Sound& sound) {
    if (list.kind != Value::Kind::list || list.items.empty())
        return entry.fail(FindingCode::wrong_type, list.source, "`layer` is not a list of tables",
                          model::fill("write [[sound.{}.layer]]", sound.name));
    for (const Value& item : list.items) {
        if (item.kind != Value::Kind::table)
            return entry.fail(FindingCode::wrong_type, item.source, "a layer is not a table",
                              model::fill("write [[sound.{}.layer]]", sound.name));
        Entry inner(entry, item, "layer", model::fill(", layer {}", sound.layers.size() + 1));
        model::Layer layer;
        read_own_keys(draft, inner, layer);
        read_levels(inner, layer.gain, layer.pitch, layer.pan);
        layer.vary = read_vary(inner);
        layer.follows = read_follows(draft, inner, FollowsOf::layer);
        layer.lfos = read_lfos(draft, inner);
        layer.loop = item.find("loop") ? read_loop(inner) : whole;
        inner.finish();
        entry.close(inner);
        sound.layers.push_back(std::move(layer));
    }
}

void check_loops(Draft& draft, Entry& entry, const Value& table, const model::Sound& sound) {
    const Value* layers = table.find("layer");
    for (std::size_t l = 0; l < sound.layers.size(); ++l) {
        const model::Layer& layer = sound.layers[l];
        const Value* own = layers && l < layers->items.size() ? layers->items[l].find("loop") : nullptr;
        const Value* loop = own ? own : table.find("loop");
        if (!loop || !layer.loop.on) continue;
        for (const int take : layer.takes)
            if (const model::Clip& clip = draft.project.clips[static_cast<std::size_t>(take)]; !clip.left_out)
                check_loop(entry, layer.loop, *loop, clip);
    }
}

/// Returns true if one of the takes is pending, so it has no file yet.
bool waits_for_clips(const Draft& draft, const Value& value) {
    if (value.kind == Value::Kind::text) return draft.pending.contains(value.text);
    const auto deeper = [&](const auto& items, const auto& of) {
        return std::any_of(items.begin(), items.end(),
                           [&](const auto& item) { return waits_for_clips(draft, of(item)); });
    };
    return deeper(value.items, [](const Value& item) -> const Value& { return item; }) ||
           deeper(value.members, [](const Member& member) -> const Value& { return member.value; });
}

/// Returns the clips that the sound names, as takes or by their series.
std::vector<std::string> clips_named_by(const Draft& draft, const Value& value) {
    std::vector<std::string> names;
    const auto named = [&](const std::string& text) {
        for (const auto& [clip, index] : draft.clips)
            if (clip == text || number_in_series(clip, text) >= 0) names.push_back(clip);
    };
    const auto deeper = [&](const Value& inner) {
        for (std::string& name : clips_named_by(draft, inner)) names.push_back(std::move(name));
    };
    if (value.kind == Value::Kind::text) named(value.text);
    for (const Value& item : value.items) deeper(item);
    for (const Member& member : value.members) deeper(member.value);
    return names;
}

/// Adds a pending sound, which can be named and played. It sounds as the placeholder, or not at all.
void add_pending(Draft& draft, model::Sound sound) {
    sound.pending = true;
    sound.layers.clear();
    if (draft.options.placeholder) {
        model::Clip tick;
        tick.name = sound.name;
        tick.source = sound.source;
        sound.pending = false;
        sound.layers.emplace_back().takes = {static_cast<int>(draft.project.clips.size())};
        sound.layers.back().weights = {1};
        const auto own = draft.clips.find(sound.name); // a clip of that name stays what it was
        const int before = own == draft.clips.end() ? -2 : own->second;
        take_placeholder(draft, std::move(tick));
        if (before == -2)
            draft.clips.erase(sound.name);
        else
            draft.clips[sound.name] = before;
    }
    draft.sounds[sound.name] = static_cast<int>(draft.project.sounds.size());
    draft.project.sounds.push_back(std::move(sound));
}

void read_sound(Draft& draft, const Member& member, bool variant) {
    const Value* layers = member.value.find("layer");
    const Entry::Sections sections = layers ? Entry::Sections{"sound"} : Entry::Sections{"sound", "layer"};
    Entry entry(draft.findings, member.value, sections, model::fill("sound \"{}\"", member.key), member.key);
    model::Sound sound;
    sound.name = member.key;
    sound.source = member.source;
    sound.variant = variant;
    entry.any("variant"); // see read_variants
    entry.text("use");
    read_levels(entry, sound.gain, sound.pitch, sound.pan);
    sound.vary = read_vary(entry);
    sound.follows = read_follows(draft, entry, FollowsOf::sound);
    sound.lfos = read_lfos(draft, entry);
    sound.fade_in = entry.duration("fade-in").value_or(sound.fade_in);
    sound.fade_out = entry.duration("fade-out").value_or(sound.fade_out);
    sound.fade_in_curve = sound.fade_out_curve = static_cast<FadeCurve>(entry.word("fade-curve").value_or(0));
    sound.priority = entry.whole("priority").value_or(0);
    sound.outlives = entry.truth("outlives").value_or(false);
    read_limit(entry, sound.limit);
    if (const Value* bus = entry.any("bus")) sound.bus = look_up(entry, *bus, draft.buses, "bus").value_or(0);
    if (entry.truth("pending").value_or(false) && !layers && !member.value.find("takes")) {
        entry.finish();
        if (!entry.ok()) return;
        draft.project.pending.push_back({"sound", member.key, member.source});
        return add_pending(draft, std::move(sound));
    }
    const model::Loop loop = read_loop(entry);
    if (layers) {
        read_layers(draft, entry, *layers, loop, sound);
    } else {
        model::Layer& layer = sound.layers.emplace_back();
        read_own_keys(draft, entry, layer);
        layer.loop = loop;
        layer.vary = std::exchange(sound.vary, {}); // of one layer they are the same, and the layer's draws are older
    }
    check_loops(draft, entry, member.value, sound);
    entry.finish();
    // A take with an error does not exclude the other takes, but a layer without takes cannot play.
    const bool playable = std::all_of(sound.layers.begin(), sound.layers.end(),
                                      [](const model::Layer& layer) { return !layer.takes.empty(); });
    if (entry.ok() && !playable && waits_for_clips(draft, member.value)) return add_pending(draft, std::move(sound));
    if (!entry.ok() || !playable) {
        draft.project.left_out.push_back({sound.name, clips_named_by(draft, member.value), sound.source});
        return;
    }
    if (!variant) draft.sounds[member.key] = static_cast<int>(draft.project.sounds.size()); // else nothing may name it
    draft.project.sounds.push_back(std::move(sound));
}

/// Returns the table of a sound with the keys of a variant replaced.
Value with_variant(const Value& sound, const Value& variant) {
    Value merged = sound;
    for (const Member& member : variant.members) {
        const auto own = std::find_if(merged.members.begin(), merged.members.end(),
                                      [&](const Member& one) { return one.key == member.key; });
        if (own != merged.members.end())
            own->value = member.value;
        else
            merged.members.push_back(member);
    }
    return merged;
}

/// Returns the valid variants of a sound; nothing after an error.
std::optional<std::vector<Member>> read_variants(Draft& draft, const Member& sound) {
    std::vector<Member> all;
    const Value* variants = sound.value.find("variant");
    if (!variants) return all;
    const std::string what = model::fill("sound \"{}\"", sound.key);
    const auto fail = [&](FindingCode code, const Value& value, const std::string& message, const char* fix) {
        draft.findings.add(code, Severity::error, value.source, what + ": " + message, fix, sound.key);
        return std::nullopt;
    };
    if (variants->kind != Value::Kind::table)
        return fail(FindingCode::wrong_type, *variants, "`variant` is not a table",
                    "write [sound.NAME.variant.OTHER] with the keys that differ");
    for (const Member& variant : variants->members) {
        if (!check_name(draft, variant, "variant")) return std::nullopt;
        if (variant.value.kind != Value::Kind::table)
            return fail(
                FindingCode::wrong_type, variant.value,
                model::fill("variant \"{}\" is {}, but must be a table", variant.key, kind_name(variant.value.kind)),
                "write the keys that differ below it");
        for (const char* key : {"variant", "use"})
            if (const Value* own = variant.value.find(key))
                return fail(FindingCode::unknown_key, *own,
                            model::fill("variant \"{}\": unknown key `{}`", variant.key, key),
                            "remove the key; variants do not have it");
        all.push_back({sound.key + ":" + variant.key, variant.source, with_variant(sound.value, variant.value)});
        std::erase_if(all.back().value.members,
                      [](const Member& member) { return member.key == "variant" || member.key == "use"; });
    }
    return all;
}

/// Reads the sound, or the variant that it uses, then each variant as a sound of its own.
void read_with_variants(Draft& draft, const Member& sound) {
    const auto variants = read_variants(draft, sound);
    if (!variants) return;
    Member own = sound;
    if (const Value* use = sound.value.find("use"); use && use->kind == Value::Kind::text) {
        std::map<std::string, int> known;
        for (const Member& variant : *variants) known.emplace(variant.key.substr(sound.key.size() + 1), 0);
        Entry entry(draft.findings, sound.value, {"sound"}, model::fill("sound \"{}\"", sound.key), sound.key);
        if (!look_up(entry, *use, known, "variant")) return;
        own.value = with_variant(sound.value, *sound.value.find("variant")->find(use->text));
    }
    const std::size_t before = draft.project.sounds.size();
    read_sound(draft, own, false);
    if (draft.project.sounds.size() == before) return; // what is wrong with it is wrong with its variants too
    for (const Member& variant : *variants) read_sound(draft, variant, true);
}

} // namespace

void read_sounds(Draft& draft, const Value& section) {
    for (const Member& member : section.members) {
        if (!check_name(draft, member, "sound")) continue;
        draft.sounds[member.key] = -1;
        if (is_table(draft, member, "sound")) read_with_variants(draft, member);
    }
}

} // namespace kiai::reader
