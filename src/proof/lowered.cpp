// Which of all gains on the way left so little of a play.
#include "proof/evidence.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <optional>

namespace kiai::proof {
namespace {

struct Part {
    double gain = 0;
    Lowered told;
};

/// A bus that the app or an action had muted or turned down last, before a frame.
std::optional<std::string> turned_down(const Evidence& evidence, const std::string& bus, Frames before) {
    std::optional<std::string> told;
    for (const Decision& d : evidence.decisions) {
        if (d.outcome != Outcome::done || d.frame > before) continue;
        const bool by_app = (d.trigger == ReportKind::bus_mute || d.trigger == ReportKind::bus_gain) && d.on == bus;
        if (d.action == "mute bus " + bus || d.action == "mute everything" || d.action.starts_with("set bus " + bus) ||
            by_app)
            told = fmt::format("{} ({})", d.action.empty() ? fmt::format("{} {}", to_string(d.trigger), bus) : d.action,
                               evidence.at(d.frame));
        if (d.action == "unmute bus " + bus || d.action == "unmute everything") told.reset();
    }
    return told;
}

const model::Sound* sound_named(const model::Project& project, const std::string& name) {
    for (const model::Sound& sound : project.sounds)
        if (sound.name == name) return &sound;
    return nullptr;
}

const Decision* begin_of(const Evidence& evidence, const Decision& ended) {
    const Decision* last = nullptr;
    for (const Decision& d : evidence.decisions)
        if (d.outcome == Outcome::played && d.sound == ended.sound && (d.play == ended.play || !last)) last = &d;
    return last;
}

/// The gains that stand in kiai.toml, each with its place.
std::vector<Part> written(const model::Project& project, const model::Sound& sound, const std::string& clip_name) {
    std::vector<Part> parts;
    const auto add = [&](double gain, std::string what, model::Source source) {
        parts.push_back({gain, {fmt::format("{} has a gain of {:g} dB", what, gain), "raise that gain", source}});
    };
    add(sound.gain, fmt::format("sound \"{}\"", sound.name), sound.source);
    for (const model::Layer& layer : sound.layers)
        for (const int take : layer.takes) {
            const model::Clip& clip = project.clips[static_cast<std::size_t>(take)];
            if (clip.name != clip_name) continue;
            add(layer.gain, fmt::format("a layer of sound \"{}\"", sound.name), sound.source);
            add(clip.gain, fmt::format("clip \"{}\"", clip.name), clip.source);
        }
    for (int b = sound.bus; b >= 0; b = project.buses[static_cast<std::size_t>(b)].into) {
        const model::Bus& bus = project.buses[static_cast<std::size_t>(b)];
        add(bus.gain, fmt::format("bus \"{}\"", bus.name), bus.source);
    }
    return parts;
}

} // namespace

Lowered lowered_most(const Evidence& evidence, const Decision& ended) {
    const model::Project& project = evidence.project;
    const model::Sound* const sound = sound_named(project, ended.sound);
    const Decision* const begin = begin_of(evidence, ended);
    if (!sound || !begin || begin->layers.empty()) return {"its gains leave too little", "raise them", {}};
    for (int b = sound->bus; b >= 0; b = project.buses[static_cast<std::size_t>(b)].into) {
        const model::Bus& bus = project.buses[static_cast<std::size_t>(b)];
        if (const auto told = turned_down(evidence, bus.name, ended.frame))
            return {fmt::format("bus \"{}\" was turned down by {}", bus.name, *told), "turn it up again, or unmute it",
                    bus.source};
    }
    const auto loudest = std::max_element(begin->layers.begin(), begin->layers.end(),
                                          [](const auto& a, const auto& b) { return a.gain < b.gain; });
    std::vector<Part> parts = written(project, *sound, loudest->clip);
    if (const model::Binding* binding = evidence.binding(begin->binding)) {
        for (const model::Action& action : binding->actions)
            if (action.target == model::Target::sound && action.name == sound->name)
                parts.push_back({action.gain,
                                 {fmt::format("binding {} has a gain of {:g} dB", begin->binding, action.gain),
                                  "raise that gain", binding->source}});
    }
    double sum = 0, peak = 0;
    for (const Part& part : parts) sum += part.gain;
    for (const model::Clip& clip : project.clips)
        if (const auto& held = clip.audio; held && clip.name == loudest->clip && !held->envelope.empty())
            peak = 20 * std::log10(std::max(1e-10f, *std::max_element(held->envelope.begin(), held->envelope.end())));
    parts.push_back(
        {loudest->gain - sum,
         {fmt::format("the call's own gain and what follows the trigger make {:+.1f} dB", loudest->gain - sum),
          "raise that gain, or the low end of the curve", sound->source}});
    parts.push_back({ended.level - peak - loudest->gain,
                     {"what follows a dial or a value of the play leaves nothing of it",
                      "turn the dial up, set the value (play.set), or raise the low end of the curve", sound->source}});
    return std::min_element(parts.begin(), parts.end(), [](const Part& a, const Part& b) { return a.gain < b.gain; })
        ->told;
}

} // namespace kiai::proof
