#include <kiai/workshop/even.h>

#include "core/model/near.h"
#include "core/reader/project_reader.h"
#include "runtime/project/read_folder.h"
#include "workshop/edit/editing.h"
#include "workshop/facts/facts_cache.h"
#include "workshop/rehearse/loudness.h"

#include <kiai/workshop/rehearse.h>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace kiai::inline v0 {
namespace {

using namespace workshop;
namespace fs = std::filesystem;

double tenth(double decibels) {
    return std::round(decibels * 10) / 10 + 0.0;
}

GainProposal proposal(const char* kind, const std::string& name, double loudness, double gain, double wanted) {
    GainProposal one{kind, name, static_cast<float>(loudness), static_cast<Decibels>(gain),
                     static_cast<Decibels>(gain)};
    const double after = std::clamp(tenth(gain + wanted - loudness), -120.0, 24.0);
    if (std::abs(wanted - loudness) > 0.05) one.after = static_cast<Decibels>(after);
    return one;
}

void even_takes(const model::Project& project, const model::Sound& sound, EvenResult& result) {
    for (const model::Layer& layer : sound.layers) {
        std::vector<double> all;
        const auto clip_of = [&](int take) -> const model::Clip& {
            return project.clips[static_cast<std::size_t>(take)];
        };
        for (const int take : layer.takes)
            if (clip_of(take).facts->loudness > Facts::silent)
                all.push_back(clip_of(take).facts->loudness + clip_of(take).gain);
        if (all.empty()) continue;
        std::sort(all.begin(), all.end());
        const double middle = (all[(all.size() - 1) / 2] + all[all.size() / 2]) / 2;
        for (const int take : layer.takes) {
            const model::Clip& clip = clip_of(take);
            if (clip.facts->loudness <= Facts::silent) {
                result.edited.remarks.push_back(fmt::format("clip \"{}\" is silent and was not changed", clip.name));
                continue;
            }
            const auto known = std::find_if(result.gains.begin(), result.gains.end(),
                                            [&](const GainProposal& one) { return one.name == clip.name; });
            if (known == result.gains.end())
                result.gains.push_back(
                    proposal("clip", clip.name, clip.facts->loudness + clip.gain, clip.gain, middle));
        }
    }
}

/// Measures what is heard: each take three times, or as chance decides.
void even_whole(const fs::path& folder, const std::string& name, float target, EvenResult& result) {
    const LoadResult loaded = load_project(folder);
    const auto& sounds = loaded.project.data().sounds;
    const auto sound =
        std::find_if(sounds.begin(), sounds.end(), [&](const model::Sound& s) { return s.name == name; });
    if (sound == sounds.end()) return; // said before
    std::size_t takes = 1;
    for (const model::Layer& layer : sound->layers) takes = std::max(takes, layer.takes.size());
    HearSettings settings;
    settings.times = static_cast<int>(std::clamp<std::size_t>(3 * takes, 6, 100));
    settings.gap = Seconds(0);
    const Rehearsal heard = hear(loaded.project, name, settings);
    const Facts facts = workshop::measure_samples(heard.samples, heard.sample_rate);
    if (facts.loudness <= Facts::silent) {
        refuse(result.edited, folder, FindingCode::clip_silent, sound->source,
               fmt::format("sound \"{}\" is silent", name), "run kiai check");
        return;
    }
    result.gains.push_back(
        proposal("sound", name, facts.loudness, sound->gain, std::clamp(static_cast<double>(target), -70.0, 0.0)));
    const double peak = facts.true_peak + result.gains.back().after - result.gains.back().before;
    if (peak > -0.5)
        result.edited.remarks.push_back(
            fmt::format("its peaks would reach {:+.1f} dBTP, where the limiter works", peak));
}

void write_gain(Document& toml, const GainProposal& gain) {
    const Place entry{gain.kind, gain.name};
    const std::string value = fmt::format("{:.1f}", gain.after);
    const reader::Value* known = value_at(const_cast<reader::Value&>(toml.root()), entry);
    if (known && known->kind == reader::Value::Kind::text) // a bare file becomes a table
        toml.set_value(entry, fmt::format("{{ file = {}, gain = {} }}", toml_text(known->text), value));
    else if (known && known->find("gain"))
        toml.set_value({gain.kind, gain.name, std::string("gain")}, value);
    else
        toml.add(entry, {{"gain", value}});
}

} // namespace

EvenResult even_sound(const fs::path& folder, const std::string& name, const EvenSettings& settings) {
    EvenResult result;
    FactsCache cache(folder, false);
    const LoadResult read = runtime::read_folder(cache);
    if (!read.ok()) {
        result.edited.findings = read.findings;
        return result;
    }
    const model::Project& project = read.project.data();
    const auto sound = std::find_if(project.sounds.begin(), project.sounds.end(),
                                    [&](const model::Sound& one) { return one.name == name; });
    if (sound == project.sounds.end()) {
        std::vector<std::string> names;
        for (const model::Sound& one : project.sounds) names.push_back(one.name);
        const std::string near = model::nearest(name, names);
        refuse(result.edited, folder, FindingCode::unknown_name, {}, fmt::format("unknown sound \"{}\"", name),
               near.empty() ? "`kiai list` prints all names" : fmt::format("did you mean \"{}\"?", near));
        return result;
    }
    if (settings.target)
        even_whole(folder, name, *settings.target, result);
    else
        even_takes(project, *sound, result);
    if (sound->implied) // it has no entry of its own
        for (GainProposal& gain : result.gains) gain.kind = "clip";
    if (!settings.write || !result.edited.ok()) return result;
    std::vector<std::string> remarks = std::move(result.edited.remarks);
    result.edited = edit_project(folder, [&](Document& toml, EditResult&) {
        for (const GainProposal& gain : result.gains)
            if (gain.after != gain.before) write_gain(toml, gain);
    });
    result.edited.remarks.insert(result.edited.remarks.begin(), remarks.begin(), remarks.end());
    return result;
}

} // namespace kiai::inline v0
