#include "workshop/check/uses.h"

#include "core/model/effects.h"
#include "workshop/check/findings.h"

#include <fmt/format.h>

#include <algorithm>

namespace kiai::workshop {

namespace {

/// Calls `use` with each action and its owner.
template<class Use>
void for_each_action(const model::Project& project, const Use& use) {
    for (std::size_t b = 0; b < project.bindings.size(); ++b)
        for (const model::Action& action : project.bindings[b].actions)
            use(action, fmt::format("{}, line {}", model::binding_title(project.bindings[b], b + 1),
                                    project.bindings[b].source.line));
    for (const model::Sequence& sequence : project.sequences)
        model::for_each_action(sequence.steps, [&](const model::Action& action) {
            use(action, fmt::format("sequence \"{}\", line {}", sequence.name, sequence.source.line));
        });
}

bool of_zones(ReportKind trigger) {
    return trigger == ReportKind::press || trigger == ReportKind::release || trigger == ReportKind::enter ||
           trigger == ReportKind::leave;
}

template<class Entries>
void add_by_name(const Entries& entries, const std::string& name, std::set<int>& used) {
    for (std::size_t i = 0; i < entries.size(); ++i)
        if (entries[i].name == name) used.insert(static_cast<int>(i));
}

void add_condition(const model::Condition& condition, Uses& uses) {
    for (const model::Clause& clause : condition)
        if (clause.value == model::Value::dial) uses.dials.insert(clause.dial);
}

void add_follows(const std::vector<model::Follow>& follows, Uses& uses) {
    for (const model::Follow& follow : follows)
        if (follow.value == model::Value::dial) uses.dials.insert(follow.dial);
}

void add_binding(const model::Project& project, const model::Binding& binding, Uses& uses) {
    if (of_zones(binding.trigger)) uses.zones.insert(binding.name);
    if (binding.trigger == ReportKind::marker) add_by_name(project.motions, binding.name, uses.motions);
    if (binding.trigger == ReportKind::scope_enter || binding.trigger == ReportKind::scope_leave)
        add_by_name(project.scopes, binding.name, uses.scopes);
    if (binding.scope >= 0) uses.scopes.insert(binding.scope);
    add_condition(binding.when, uses);
    add_condition(binding.watch, uses);
}

void add_action(const model::Action& action, Uses& uses) {
    std::set<int>* const by_target[] = {nullptr,         &uses.sounds, &uses.buses, &uses.scopes,
                                        &uses.sequences, nullptr,      &uses.dials, nullptr};
    if (action.target == model::Target::sound && !model::starts(action.verb)) return; // what is stopped is not played
    if (auto* used = by_target[static_cast<int>(action.target)]) used->insert(action.index);
}

} // namespace

Uses uses_of(const model::Project& project) {
    Uses uses;
    for (const model::Binding& binding : project.bindings) add_binding(project, binding, uses);
    for_each_action(project, [&](const model::Action& action, const std::string&) { add_action(action, uses); });
    for (const model::Zone& zone : project.zones) uses.scopes.insert(zone.scope);
    for (const model::Sequence& sequence : project.sequences) uses.scopes.insert(sequence.scope);
    for (const model::Bus& bus : project.buses) uses.buses.insert(bus.into);
    for (std::size_t s = 0; s < project.sounds.size(); ++s) {
        const model::Sound& sound = project.sounds[s];
        uses.buses.insert(sound.bus);
        add_follows(sound.follows, uses);
        for (const model::Lfo& lfo : sound.lfos) add_follows(lfo.follows, uses);
        for (const model::Layer& layer : sound.layers) {
            add_follows(layer.follows, uses);
            for (const model::Lfo& lfo : layer.lfos) add_follows(lfo.follows, uses);
        }
        if (sound.implied && !uses.sounds.contains(static_cast<int>(s))) continue;
        for (const model::Layer& layer : sound.layers) uses.clips.insert(layer.takes.begin(), layer.takes.end());
    }
    return uses;
}

std::vector<std::string> users_of_sound(const model::Project& project, int sound) {
    std::vector<std::string> users;
    for_each_action(project, [&](const model::Action& action, const std::string& where) {
        if (action.target == model::Target::sound && action.index == sound)
            users.push_back(fmt::format("{}: {} it", where, to_string(action.verb)));
    });
    return users;
}

std::vector<std::string> users_of_clip(const model::Project& project, int clip) {
    std::vector<std::string> users;
    for (std::size_t s = 0; s < project.sounds.size(); ++s) {
        const model::Sound& sound = project.sounds[s];
        const bool holds = std::any_of(sound.layers.begin(), sound.layers.end(), [&](const model::Layer& layer) {
            return std::find(layer.takes.begin(), layer.takes.end(), clip) != layer.takes.end();
        });
        if (!holds) continue;
        if (sound.implied)
            for (std::string& user : users_of_sound(project, static_cast<int>(s))) users.push_back(std::move(user));
        else
            users.push_back(fmt::format("sound \"{}\", line {}: a take of it", sound.name, sound.source.line));
    }
    return users;
}

void doubt_uses(const model::Project& project, reader::Findings& findings) {
    const Uses uses = uses_of(project);
    for (std::size_t s = 0; s < project.sounds.size(); ++s) {
        const model::Sound& sound = project.sounds[s];
        if (!sound.implied && !sound.variant && !sound.pending && !uses.sounds.contains(static_cast<int>(s)))
            findings.add(FindingCode::unbound_sound, sound.source,
                         fmt::format("sound \"{}\" has no binding", sound.name),
                         "bind it, or accept the finding if code plays it", sound.name);
    }
    for (std::size_t c = 0; c < project.clips.size(); ++c)
        if (!uses.clips.contains(static_cast<int>(c)))
            findings.add(FindingCode::unused_clip, project.clips[c].source,
                         fmt::format("clip \"{}\" is not used", project.clips[c].name), "use it, or run kiai remove",
                         project.clips[c].name);
    for (const model::Pending& pending : project.pending)
        findings.add(FindingCode::pending_entry, pending.source,
                     fmt::format("{} \"{}\" is pending and silent", pending.kind, pending.name),
                     pending.kind == "clip" ? "give it a file" : "give it takes", pending.name);
    for (const model::Zone& zone : project.zones)
        if (!uses.zones.contains(zone.name))
            findings.add(FindingCode::idle_zone, zone.source, fmt::format("zone \"{}\" has no binding", zone.name),
                         "bind it, or remove it; it blocks presses on the zones behind", zone.name);
    const auto unused = [&](const auto& entries, const std::set<int>& used, const char* kind, const char* fix) {
        for (std::size_t i = 0; i < entries.size(); ++i)
            if (!used.contains(static_cast<int>(i)))
                findings.add(FindingCode::unused_entry, entries[i].source,
                             fmt::format("{} \"{}\" is not used", kind, entries[i].name), fix, entries[i].name);
    };
    std::set<int> buses = uses.buses;
    buses.insert(0); // `main` is there in any case
    unused(project.buses, buses, "bus", "put sounds on it, or remove it");
    unused(project.dials, uses.dials, "dial", "use it in a follow, a condition or a watch, or remove it");
    unused(project.scopes, uses.scopes, "scope", "use it in bindings, zones or sequences, or remove it");
    unused(project.motions, uses.motions, "motion", "bind its markers, or remove it");
    unused(project.sequences, uses.sequences, "sequence", "run it from a binding, or remove it");
}

} // namespace kiai::workshop
