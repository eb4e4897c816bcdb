#include "audit/uses.h"

#include "audit/doubts.h"

#include <fmt/format.h>

#include <algorithm>

namespace kiai::audit {

Uses uses_of(const model::Project& project) {
    Uses uses;
    for (const model::Binding& binding : project.bindings) {
        for (const model::Action& action : binding.actions) uses.sounds.insert(action.sound);
        if (binding.trigger == ReportKind::press) uses.zones.insert(binding.name);
    }
    for (std::size_t s = 0; s < project.sounds.size(); ++s) {
        const model::Sound& sound = project.sounds[s];
        if (sound.implied && !uses.sounds.contains(static_cast<int>(s))) continue;
        for (const model::Layer& layer : sound.layers) uses.clips.insert(layer.takes.begin(), layer.takes.end());
    }
    return uses;
}

std::vector<std::string> users_of_sound(const model::Project& project, int sound) {
    std::vector<std::string> users;
    for (std::size_t b = 0; b < project.bindings.size(); ++b)
        for (const model::Action& action : project.bindings[b].actions)
            if (action.sound == sound)
                users.push_back(fmt::format("binding {}, line {}: {} it", b + 1, project.bindings[b].source.line,
                                            to_string(action.kind)));
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

void doubt_uses(const model::Project& project, files::Findings& findings) {
    const Uses uses = uses_of(project);
    for (std::size_t s = 0; s < project.sounds.size(); ++s) {
        const model::Sound& sound = project.sounds[s];
        if (!sound.implied && !uses.sounds.contains(static_cast<int>(s)))
            findings.add(FindingCode::unbound_sound, sound.source,
                         fmt::format("sound \"{}\": no binding plays it", sound.name), "bind it, or play it from code",
                         sound.name);
    }
    for (std::size_t c = 0; c < project.clips.size(); ++c)
        if (!uses.clips.contains(static_cast<int>(c)))
            findings.add(FindingCode::unused_clip, project.clips[c].source,
                         fmt::format("clip \"{}\": no sound and no binding uses it", project.clips[c].name),
                         "use it, or take it out", project.clips[c].name);
    for (const model::Pending& pending : project.pending)
        findings.add(FindingCode::pending_entry, pending.source,
                     fmt::format("{} \"{}\" is pending: nothing is heard of it", pending.kind, pending.name),
                     pending.kind == "clip" ? "give it a file" : "give it takes", pending.name);
    for (const model::Zone& zone : project.zones)
        if (!uses.zones.contains(zone.name))
            findings.add(FindingCode::idle_zone, zone.source,
                         fmt::format("zone \"{}\": nothing is bound to it", zone.name),
                         "bind it; until then it only takes presses from what lies behind it", zone.name);
}

} // namespace kiai::audit
