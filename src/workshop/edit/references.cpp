#include "workshop/edit/references.h"

#include "core/reader/scan.h"
#include "core/reader/series.h"

#include <kiai/keys.h>

#include <fmt/format.h>

#include <map>
#include <optional>
#include <string_view>

namespace kiai::workshop {
namespace {

/// Calls `use` with each layer of each sound: its place, the sound's name, its table.
template<class Use>
void for_each_layer(const std::string& name, const reader::Value& sound, const Place& place, const Use& use) {
    use(place, name, sound);
    const reader::Value* layers = sound.find("layer");
    for (std::size_t i = 0; layers && i < layers->items.size(); ++i) {
        Place deeper = place;
        deeper.insert(deeper.end(), {std::string("layer"), i});
        use(deeper, name, layers->items[i]);
    }
    const reader::Value* variants = sound.find("variant");
    for (std::size_t i = 0; variants && i < variants->members.size(); ++i) {
        const reader::Member& variant = variants->members[i];
        Place deeper = place;
        deeper.insert(deeper.end(), {std::string("variant"), variant.key});
        for_each_layer(name + ":" + variant.key, variant.value, deeper, use);
    }
}

template<class Use>
void for_each_layer(const reader::Value& root, const Use& use) {
    const reader::Value* sounds = root.find("sound");
    if (!sounds) return;
    for (const reader::Member& sound : sounds->members)
        for_each_layer(sound.key, sound.value, {std::string("sound"), sound.key}, use);
}

void add_takes(const reader::Value& root, std::vector<Reference>& found) {
    for_each_layer(root, [&](Place place, const std::string& sound, const reader::Value& layer) {
        const reader::Value* takes = layer.find("takes");
        if (!takes || takes->kind != reader::Value::Kind::list) return;
        place.emplace_back(std::string("takes"));
        for (std::size_t i = 0; i < takes->items.size(); ++i) {
            const bool weighted = takes->items[i].kind == reader::Value::Kind::table; // { clip = "…", weight = 3 }
            const reader::Value* name = weighted ? takes->items[i].find("clip") : &takes->items[i];
            if (!name || name->kind != reader::Value::Kind::text) continue;
            const reader::Value& item = *name;
            Place deeper = place;
            deeper.emplace_back(i);
            const Place holder = deeper;
            if (weighted) deeper.emplace_back(std::string("clip"));
            found.push_back({EntryKind::clip, item.text, deeper, takes->items.size() > 1 ? holder : Place(),
                             item.source, fmt::format("sound \"{}\" takes it", sound), item.text});
        }
    });
}

/// Returns the entry that the text of a key names, or nothing.
std::optional<EntryKind> named_by(const std::string& section, const std::string& key, const reader::Value& table) {
    static const std::map<std::string, EntryKind> kinds{{"sound.bus", EntryKind::bus},
                                                        {"bus.into", EntryKind::bus},
                                                        {"follow.dial", EntryKind::dial},
                                                        {"zone.scope", EntryKind::scope},
                                                        {"zone.press", EntryKind::any},
                                                        {"zone.release", EntryKind::any},
                                                        {"zone.enter", EntryKind::any},
                                                        {"zone.leave", EntryKind::any},
                                                        {"sequence.scope", EntryKind::scope},
                                                        {"binding.scope", EntryKind::scope},
                                                        {"trigger.press", EntryKind::zone},
                                                        {"trigger.release", EntryKind::zone},
                                                        {"trigger.enter", EntryKind::zone},
                                                        {"trigger.leave", EntryKind::zone},
                                                        {"trigger.scope-enter", EntryKind::scope},
                                                        {"trigger.scope-leave", EntryKind::scope},
                                                        {"trigger.ended", EntryKind::any},
                                                        {"action.play", EntryKind::any},
                                                        {"action.hold", EntryKind::any},
                                                        {"action.toggle", EntryKind::any},
                                                        {"action.restart", EntryKind::any},
                                                        {"action.stop", EntryKind::any},
                                                        {"action.pause", EntryKind::any},
                                                        {"action.resume", EntryKind::any},
                                                        {"action.mute", EntryKind::any},
                                                        {"action.unmute", EntryKind::any},
                                                        {"action.run", EntryKind::sequence},
                                                        {"target.bus", EntryKind::bus},
                                                        {"target.scope", EntryKind::scope},
                                                        {"target.sequence", EntryKind::sequence},
                                                        {"accepted.on", EntryKind::any}};
    if (section == "action" && key == "set") return table.find("to") ? EntryKind::dial : EntryKind::any;
    const auto found = kinds.find(section + '.' + key);
    return found == kinds.end() ? std::nullopt : std::optional(found->second);
}

/// Walks through kiai.toml by the table of keys, and collects what names an entry.
class Walker {
  public:
    explicit Walker(std::vector<Reference>& found) : found_(found) {}

    /// `within`: the name in messages; `holder`: what is removed together with the name, see Reference.
    void walk(const std::string& section, const reader::Value& table, const Place& place, const std::string& within,
              const Place& holder) {
        for (const reader::Member& member : table.members) {
            const Key* key = key_of(section, member.key);
            if (!key) continue;
            Place deeper = place;
            deeper.emplace_back(member.key);
            if (member.value.kind == reader::Value::Kind::text)
                text(*key, member, table, deeper, within, holder);
            else if (std::string_view(key->section) == "take")
                continue; // takes have a way of their own
            else if (std::string_view(key->name) == "marker" && !member.value.items.empty())
                add(EntryKind::motion, member.value.items[0], at(deeper, 0), {}, within + ": waits for its marker");
            else if (key->takes == Takes::entries || (key->takes == Takes::table && section == "project"))
                entries(*key, member.value, deeper);
            else
                into(*key, member.value, deeper, within);
        }
    }

  private:
    static Place at(Place place, std::size_t item) {
        place.emplace_back(item);
        return place;
    }

    /// A sound also has the keys of its only layer, and a step may be an action.
    static const Key* key_of(const std::string& section, const std::string& name) {
        for (const std::string& one : {section, std::string(section == "sound"  ? "layer"
                                                            : section == "step" ? "action"
                                                                                : "")})
            for (const Key& key : project_keys())
                if (key.parent == one && key.name == name) return &key;
        return nullptr;
    }

    void add(EntryKind kind, const reader::Value& name, const Place& place, const Place& holder, std::string what) {
        if (name.kind == reader::Value::Kind::text)
            found_.push_back({kind, name.text, place, holder, name.source, std::move(what), name.text});
    }

    void entries(const Key& key, const reader::Value& section, const Place& place) {
        for (const reader::Member& entry : section.members) {
            Place deeper = place;
            deeper.emplace_back(entry.key);
            walk(key.section, entry.value, deeper, fmt::format("{} \"{}\"", key.section, entry.key), {});
        }
    }

    void into(const Key& key, const reader::Value& value, const Place& place, const std::string& within) {
        if (value.kind == reader::Value::Kind::table) return walk(key.section, value, place, within, {});
        for (std::size_t i = 0; i < value.items.size(); ++i) {
            const reader::Value& item = value.items[i];
            const Place deeper = at(place, i);
            if (item.kind == reader::Value::Kind::list) { // steps that begin at once
                into(key, item, deeper, within);
                continue;
            }
            const bool whole = std::string_view(key.parent) == "project";
            const bool others = std::string_view(key.section) == "action" && value.items.size() > 1;
            walk(key.section, item, deeper, whole ? fmt::format("{} {}", key.section, i + 1) : within,
                 others || std::string_view(key.section) == "accepted" ? deeper : Place());
        }
    }

    void text(const Key& key, const reader::Member& member, const reader::Value& table, const Place& place,
              const std::string& within, const Place& holder) {
        const std::string name = key.name;
        if (name == "when" || name == "watch") return condition(member.value, place, within);
        if (const auto kind = named_by(key.parent, name, table))
            add(*kind, member.value, place, holder,
                std::string_view(key.parent) == "trigger" ? fmt::format("{} waits for its {}", within, name)
                : std::string_view(key.parent) == "zone" && name != "scope"
                    ? fmt::format("{}: {} plays it", within, name)
                : std::string_view(key.parent) == "accepted" ? within + " is about it"
                                                             : fmt::format("{}: {} it", within, name));
    }

    /// Collects the names in a condition that may be dials.
    void condition(const reader::Value& value, const Place& place, const std::string& within) {
        for (reader::Scan scan(value.text); !scan.done();) {
            const std::string name(scan.while_(reader::is_name));
            scan.blanks();
            const bool compared = scan.peek() == '<' || scan.peek() == '>' || scan.peek() == '=' || scan.take("!=");
            if (!name.empty() && compared)
                found_.push_back(
                    {EntryKind::dial, name, place, {}, value.source, within + ": a condition on it", value.text});
            if (name.empty() || compared) scan.skip();
        }
    }

    std::vector<Reference>& found_;
};

} // namespace

std::string renamed(const Reference& reference, const std::string& name) {
    if (reference.text == reference.name) return name;
    std::string result;
    for (reader::Scan scan(reference.text); !scan.done();) {
        const std::string_view word = scan.while_(reader::is_name);
        result += word == reference.name ? std::string_view(name) : word;
        result += scan.while_([](char c) { return !reader::is_name(c); });
    }
    return result;
}

std::vector<Reference> all_references(const reader::Value& root) {
    std::vector<Reference> found;
    add_takes(root, found);
    Walker(found).walk("project", root, {}, {}, {});
    return found;
}

std::vector<Reference> references(const reader::Value& root, EntryKind kind, const std::string& name) {
    const auto is_there = [&](const char* section) {
        const reader::Value* entries = root.find(section);
        return entries && entries->find(name);
    };
    const EntryKind any = is_there("sound") ? EntryKind::sound : is_there("clip") ? EntryKind::clip : kind;
    std::vector<Reference> found = all_references(root);
    std::erase_if(found, [&](const Reference& reference) {
        return reference.name != name || (reference.kind == EntryKind::any ? any : reference.kind) != kind;
    });
    return found;
}

std::vector<std::string> sounds_by_series(const reader::Value& root, const std::string& clip) {
    std::vector<std::string> sounds;
    for_each_layer(root, [&](const Place&, const std::string& sound, const reader::Value& layer) {
        const reader::Value* takes = layer.find("takes");
        const reader::Value* series =
            takes && takes->kind == reader::Value::Kind::table ? takes->find("series") : nullptr;
        if (series && reader::number_in_series(clip, series->text) >= 0) sounds.push_back(sound);
    });
    return sounds;
}

} // namespace kiai::workshop
