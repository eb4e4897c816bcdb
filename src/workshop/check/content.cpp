// Reports doubts about the contents of files.
#include "workshop/check/findings.h"
#include "workshop/facts/measure.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace kiai::workshop {
namespace {

constexpr double late_seconds = 0.010;
constexpr Decibels most_loudness = -9, most_true_peak = 1;
constexpr double uneven_db = 6;         // twice as loud, or half
constexpr float most_offset = 0.01f;    // -40 dBFS
constexpr double offset_seconds = 0.05; // below it an offset cannot be distinguished from a low tone

/// Returns the seconds that every layer with the clip skips at its beginning.
double started_at(const model::Project& project, int clip) {
    double least = 1e9;
    for (const model::Sound& sound : project.sounds)
        for (const model::Layer& layer : sound.layers)
            if (!sound.implied && std::find(layer.takes.begin(), layer.takes.end(), clip) != layer.takes.end())
                least = std::min(least, layer.start.in_frames
                                            ? layer.start.value / project.clips[static_cast<std::size_t>(clip)].rate()
                                            : layer.start.value);
    return least == 1e9 ? 0 : least;
}

void doubt_clip(const model::Project& project, int number, reader::Findings& findings) {
    const model::Clip& clip = project.clips[static_cast<std::size_t>(number)];
    const Facts& facts = *clip.facts;
    const auto say = [&](FindingCode code, const std::string& message, const std::string& fix) {
        findings.add(code, clip.source, fmt::format("clip \"{}\": {}", clip.name, message), fix, clip.name);
    };
    const auto seconds = [&](Frames frames) { return static_cast<double>(frames) / facts.rate; };
    if (facts.peak < -80) return say(FindingCode::clip_silent, "silent", "export it again; the track may be muted");
    if (facts.clipped > 0)
        say(FindingCode::clip_clipped,
            fmt::format("clipped at {} place{}, the first after {:.3f} s, the longest of {} frames", facts.clipped,
                        facts.clipped == 1 ? "" : "s", seconds(facts.first_clipped), facts.longest_clipped),
            "export it again at a lower level");
    if (std::abs(facts.offset) > most_offset && facts.seconds() >= offset_seconds)
        say(FindingCode::dc_offset, fmt::format("DC offset of {:+.3f}; causes clicks at start and end", facts.offset),
            "export it again with a high-pass at 20 Hz");
    const double late = seconds(facts.lead) - started_at(project, number);
    if (late > late_seconds)
        say(FindingCode::leading_silence,
            fmt::format("starts with {:.0f} ms of silence, so it is heard late", 1000 * late),
            fmt::format("write start = \"{:.0f} ms\" in each sound that uses it", 1000 * seconds(facts.lead) - 1));
    const double loudness = facts.loudness + clip.gain, true_peak = facts.true_peak + clip.gain;
    if (loudness > most_loudness || true_peak > most_true_peak)
        say(FindingCode::clip_too_loud,
            fmt::format("too loud: {:.1f} LUFS, true peak {:+.1f} dBTP", loudness, true_peak),
            fmt::format("write gain = {:.0f} in the clip",
                        std::floor(clip.gain - std::max(loudness - most_loudness, true_peak - most_true_peak))));
    for (std::size_t i = 0; i < facts.loops.size(); ++i)
        if (facts.loop_seams[i] > workshop::audible_seam)
            say(FindingCode::loop_clicks,
                fmt::format("the loop in the file, frames {} to {}, has a step of {:.0f} dBFS", facts.loops[i].begin,
                            facts.loops[i].end, facts.loop_seams[i]),
                "move the loop points, or write a crossfade");
}

void doubt_loop(const model::Project& project, const model::Sound& sound, reader::Findings& findings) {
    for (const model::Layer& layer : sound.layers) {
        // The loop of a region depends on samples that are not read here, and a crossfaded loop has no step.
        if (!layer.loop.on || layer.loop.points || layer.loop.from.value > 0 || layer.loop.to.value > 0 ||
            layer.loop.crossfade.value > 0)
            continue;
        for (const int take : layer.takes) {
            const model::Clip& clip = project.clips[static_cast<std::size_t>(take)];
            if (clip.facts->seam <= workshop::audible_seam) continue;
            findings.add(FindingCode::loop_clicks, sound.source,
                         fmt::format("sound \"{}\": clip \"{}\" has a step of {:.0f} dBFS at the loop point",
                                     sound.name, clip.name, clip.facts->seam),
                         "write loop = { crossfade = \"20 ms\" }, or cut the clip elsewhere", sound.name);
        }
    }
}

/// Reports takes of one layer with different levels.
void doubt_takes(const model::Project& project, const model::Sound& sound, reader::Findings& findings) {
    for (const model::Layer& layer : sound.layers) {
        if (layer.takes.size() < 3) continue; // with two takes either may be the odd one
        std::vector<double> all;
        const auto loudness = [&](int take) {
            const model::Clip& clip = project.clips[static_cast<std::size_t>(take)];
            return clip.facts->loudness + clip.gain;
        };
        for (const int take : layer.takes) all.push_back(loudness(take));
        std::sort(all.begin(), all.end());
        const double median = (all[(all.size() - 1) / 2] + all[all.size() / 2]) / 2;
        for (const int take : layer.takes) {
            const model::Clip& clip = project.clips[static_cast<std::size_t>(take)];
            const double off = loudness(take) - median;
            if (std::abs(off) <= uneven_db || clip.facts->loudness <= Facts::silent) continue;
            findings.add(FindingCode::take_level, clip.source,
                         fmt::format("clip \"{}\": {:.1f} dB {} than the other takes of sound \"{}\"", clip.name,
                                     std::abs(off), off > 0 ? "louder" : "quieter", sound.name),
                         fmt::format("give it gain = {:.1f}, or run `kiai even`", clip.gain - off), clip.name);
        }
    }
}

/// Reports layers with only one or two takes.
void doubt_count(const model::Sound& sound, reader::Findings& findings) {
    for (const model::Layer& layer : sound.layers) {
        const bool alone = layer.series && layer.takes.size() == 1;
        if (!alone && !(layer.takes.size() == 2 && layer.pick == model::Pick::shuffle)) continue;
        findings.add(
            FindingCode::few_takes, sound.source,
            fmt::format("sound \"{}\": {}", sound.name,
                        alone ? "the series has one take, which plays every time" : "two takes always alternate"),
            "add a third take, or accept the finding", sound.name);
        return;
    }
}

} // namespace

void doubt_content(const model::Project& project, reader::Findings& findings) {
    for (std::size_t c = 0; c < project.clips.size(); ++c) doubt_clip(project, static_cast<int>(c), findings);
    for (const model::Sound& sound : project.sounds) {
        if (sound.variant) continue; // most of it has been said of the sound
        doubt_loop(project, sound, findings);
        doubt_takes(project, sound, findings);
        doubt_count(sound, findings);
    }
}

} // namespace kiai::workshop
