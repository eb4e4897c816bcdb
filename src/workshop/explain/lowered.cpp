// Finds the gain that leaves a play inaudible.
#include "workshop/explain/evidence.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <vector>

namespace kiai::workshop {
namespace {

struct Part {
    double gain = 0;
    Lowered detail;
};

/// What the app and actions set on a bus or its parents, up to a frame.
struct BusState {
    double gain = 0;
    bool muted = false;
    std::string detail; ///< what set it last
};

BusState state_of(const Evidence& evidence, const std::string& bus, Frames before) {
    BusState state;
    for (const Decision& d : evidence.decisions) {
        if (d.outcome != Outcome::done || d.frame > before) continue;
        const auto set = [&](const std::string& by) {
            state.detail = fmt::format("{} ({})", by, evidence.at(d.frame));
        };
        if (!d.action && d.on == bus) {
            if (d.trigger == ReportKind::bus_gain) state.gain = d.value;
            if (d.trigger == ReportKind::bus_mute) state.muted = d.value != 0;
            if (d.trigger == ReportKind::bus_gain || d.trigger == ReportKind::bus_mute)
                set(fmt::format("{} {}", to_string(d.trigger), bus));
        }
        if (!d.action) continue;
        const bool all = d.action->target == ActionTarget::everything && bus == "main";
        const bool mute = d.action->verb == Verb::mute, unmute = d.action->verb == Verb::unmute;
        if (!all && (d.action->target != ActionTarget::bus || d.action->name != bus)) continue;
        if (mute || unmute) state.muted = mute;
        if (d.action->verb == Verb::set) state.gain = d.action->number;
        if (mute || unmute || d.action->verb == Verb::set) set(to_string(*d.action));
    }
    return state;
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

/// Returns the gains in kiai.toml, each with its place.
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
    if (!sound || !begin || begin->layers.empty()) return {"its gains are too low", "raise them", {}};
    std::vector<Part> parts;
    for (int b = sound->bus; b >= 0; b = project.buses[static_cast<std::size_t>(b)].into) {
        const model::Bus& bus = project.buses[static_cast<std::size_t>(b)];
        const BusState state = state_of(evidence, bus.name, ended.frame);
        const Lowered detail{fmt::format("bus \"{}\" was lowered by {}", bus.name, state.detail),
                             "raise its gain, or unmute it", bus.source};
        if (state.muted) return detail;
        parts.push_back({state.gain, detail});
    }
    const auto loudest = std::max_element(begin->layers.begin(), begin->layers.end(),
                                          [](const auto& a, const auto& b) { return a.gain < b.gain; });
    const double by_buses =
        std::accumulate(parts.begin(), parts.end(), 0.0, [](double sum, const Part& part) { return sum + part.gain; });
    std::vector<Part> fixed = written(project, *sound, loudest->clip);
    if (const model::Binding* binding = evidence.binding(begin->binding)) {
        for (const model::Action& action : binding->actions)
            if (action.target == model::Target::sound && action.name == sound->name)
                fixed.push_back({action.gain,
                                 {fmt::format("{} has a gain of {:g} dB",
                                              model::binding_title(*binding, static_cast<std::size_t>(begin->binding)),
                                              action.gain),
                                  "raise that gain", binding->source}});
    }
    double sum = 0, peak = 0;
    for (const Part& part : fixed) sum += part.gain;
    parts.insert(parts.end(), fixed.begin(), fixed.end());
    for (const model::Clip& clip : project.clips)
        if (const auto& held = clip.audio; held && clip.name == loudest->clip && !held->envelope.empty())
            peak = 20 * std::log10(std::max(1e-10f, *std::max_element(held->envelope.begin(), held->envelope.end())));
    parts.push_back(
        {loudest->gain - sum,
         {fmt::format("the gain of the call and the follows of the trigger add up to {:+.1f} dB", loudest->gain - sum),
          "raise that gain, or the low end of the curve", sound->source}});
    parts.push_back({ended.level - peak - loudest->gain - by_buses,
                     {"a follow of a dial or a value makes it inaudible",
                      "raise the dial, set the value (play.set), or raise the low end of the curve", sound->source}});
    return std::min_element(parts.begin(), parts.end(), [](const Part& a, const Part& b) { return a.gain < b.gain; })
        ->detail;
}

} // namespace kiai::workshop
