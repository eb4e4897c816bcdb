// Doubts about a project as a whole.
#include "files/entry.h"

#include <kiai/project.h>

#include <fmt/format.h>

#include <set>

namespace kiai::inline v0 {

std::vector<Finding> audit(const Project& handle, const std::filesystem::path& folder) {
    const model::Project& project = handle.data();
    files::Findings findings((folder / "kiai.toml").string());
    std::set<int> sounds, clips;
    std::set<std::string> zones;
    for (const model::Binding& binding : project.bindings) {
        for (const model::Action& action : binding.actions) sounds.insert(action.sound);
        if (binding.trigger == ReportKind::press) zones.insert(binding.name);
    }
    for (std::size_t s = 0; s < project.sounds.size(); ++s) {
        const model::Sound& sound = project.sounds[s];
        const bool bound = sounds.contains(static_cast<int>(s));
        if (!sound.implied && !bound)
            findings.add(FindingCode::unbound_sound, Severity::note, sound.source,
                         fmt::format("sound \"{}\": no binding plays it", sound.name), "bind it, or play it from code");
        if (sound.implied && !bound) continue;
        for (const model::Layer& layer : sound.layers) clips.insert(layer.takes.begin(), layer.takes.end());
    }
    for (std::size_t c = 0; c < project.clips.size(); ++c)
        if (!clips.contains(static_cast<int>(c)))
            findings.add(FindingCode::unused_clip, Severity::note, project.clips[c].source,
                         fmt::format("clip \"{}\": no sound and no binding uses it", project.clips[c].name),
                         "use it, or take it out");
    for (const model::Zone& zone : project.zones)
        if (!zones.contains(zone.name))
            findings.add(FindingCode::idle_zone, Severity::note, zone.source,
                         fmt::format("zone \"{}\": nothing is bound to it", zone.name),
                         "bind it; until then it only takes presses from what lies behind it");
    return findings.take();
}

} // namespace kiai::inline v0
