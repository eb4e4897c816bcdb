#include "files/references.h"

#include <fmt/format.h>

namespace kiai::files {
namespace {

/// Calls `use` with each layer of each sound: its place, the sound's name, its table.
template<class Use>
void for_each_layer(const Value& root, const Use& use) {
    const Value* sounds = root.find("sound");
    if (!sounds) return;
    for (const Member& sound : sounds->members) {
        const Place place{std::string("sound"), sound.key};
        use(place, sound.key, sound.value);
        const Value* layers = sound.value.find("layer");
        for (std::size_t i = 0; layers && i < layers->items.size(); ++i) {
            Place deeper = place;
            deeper.insert(deeper.end(), {std::string("layer"), i});
            use(deeper, sound.key, layers->items[i]);
        }
    }
}

void add_takes(const Value& root, std::vector<Reference>& found) {
    for_each_layer(root, [&](Place place, const std::string& sound, const Value& layer) {
        const Value* takes = layer.find("takes");
        if (!takes || takes->kind != Value::Kind::list) return;
        place.emplace_back(std::string("takes"));
        for (std::size_t i = 0; i < takes->items.size(); ++i) {
            const bool weighted = takes->items[i].kind == Value::Kind::table; // { clip = "…", weight = 3 }
            const Value* name = weighted ? takes->items[i].find("clip") : &takes->items[i];
            if (!name || name->kind != Value::Kind::text) continue;
            const Value& item = *name;
            Place deeper = place;
            deeper.emplace_back(i);
            const Place holder = deeper;
            if (weighted) deeper.emplace_back(std::string("clip"));
            found.push_back({EntryKind::clip, item.text, deeper, takes->items.size() > 1 ? holder : Place(),
                             item.source, fmt::format("sound \"{}\" takes it", sound)});
        }
    });
}

void add_actions(const Value& action, const Place& place, bool others, std::vector<Reference>& found) {
    for (const Member& member : action.members) {
        if (member.value.kind != Value::Kind::text) continue;
        Place text = place;
        text.emplace_back(member.key);
        found.push_back({EntryKind::any, member.value.text, text, others ? place : Place(), member.value.source,
                         fmt::format("binding {}: {} it", std::get<std::size_t>(place[1]) + 1, member.key)});
    }
}

void add_bindings(const Value& root, std::vector<Reference>& found) {
    const Value* bindings = root.find("binding");
    for (std::size_t b = 0; bindings && b < bindings->items.size(); ++b) {
        const Place binding{std::string("binding"), b};
        const auto deeper = [&](const char* key) {
            Place place = binding;
            place.emplace_back(std::string(key));
            return place;
        };
        if (const Value* trigger = bindings->items[b].find("trigger"))
            if (const Value* zone = trigger->find("press"); zone && zone->kind == Value::Kind::text) {
                Place place = deeper("trigger");
                place.emplace_back(std::string("press"));
                found.push_back({EntryKind::zone,
                                 zone->text,
                                 place,
                                 {},
                                 zone->source,
                                 fmt::format("binding {} waits for a press on it", b + 1)});
            }
        const Value* action = bindings->items[b].find("action");
        if (!action) continue;
        if (action->kind == Value::Kind::table) add_actions(*action, deeper("action"), false, found);
        for (std::size_t i = 0; i < action->items.size(); ++i) {
            Place place = deeper("action");
            place.emplace_back(i);
            add_actions(action->items[i], place, action->items.size() > 1, found);
        }
    }
}

void add_acceptances(const Value& root, std::vector<Reference>& found) {
    const Value* accepted = root.find("accepted");
    for (std::size_t i = 0; accepted && i < accepted->items.size(); ++i)
        if (const Value* on = accepted->items[i].find("on"); on && on->kind == Value::Kind::text) {
            const Place place{std::string("accepted"), i};
            Place text = place;
            text.emplace_back(std::string("on"));
            found.push_back(
                {EntryKind::any, on->text, text, place, on->source, fmt::format("accepted {} is about it", i + 1)});
        }
}

} // namespace

int number_in_series(const std::string& name, const std::string& series) {
    if (name.size() <= series.size() + 1 || name.size() > series.size() + 8 || !name.starts_with(series) ||
        name[series.size()] != '-')
        return -1;
    int number = 0;
    for (std::size_t i = series.size() + 1; i < name.size(); ++i) {
        if (name[i] < '0' || name[i] > '9') return -1;
        number = 10 * number + (name[i] - '0');
    }
    return number;
}

std::vector<Reference> all_references(const Value& root) {
    std::vector<Reference> found;
    add_takes(root, found);
    add_bindings(root, found);
    add_acceptances(root, found);
    return found;
}

std::vector<Reference> references(const Value& root, EntryKind kind, const std::string& name) {
    const auto is_there = [&](const char* section) {
        const Value* entries = root.find(section);
        return entries && entries->find(name);
    };
    const EntryKind any = is_there("sound") ? EntryKind::sound : is_there("clip") ? EntryKind::clip : EntryKind::zone;
    std::vector<Reference> found = all_references(root);
    std::erase_if(found, [&](const Reference& reference) {
        return reference.name != name || (reference.kind == EntryKind::any ? any : reference.kind) != kind;
    });
    return found;
}

std::vector<std::string> sounds_by_series(const Value& root, const std::string& clip) {
    std::vector<std::string> sounds;
    for_each_layer(root, [&](const Place&, const std::string& sound, const Value& layer) {
        const Value* takes = layer.find("takes");
        const Value* series = takes && takes->kind == Value::Kind::table ? takes->find("series") : nullptr;
        if (series && number_in_series(clip, series->text) >= 0) sounds.push_back(sound);
    });
    return sounds;
}

} // namespace kiai::files
