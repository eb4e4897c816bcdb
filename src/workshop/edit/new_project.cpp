// Makes a new project.
#include "workshop/disk/atomic_write.h"

#include <kiai/workshop/add.h>

#include <fmt/format.h>
#include <sndfile.h>

#include <cmath>
#include <memory>
#include <numbers>
#include <vector>

namespace kiai::inline v0 {
namespace {

namespace fs = std::filesystem;

/// One partial of a struck body.
struct Partial {
    double hertz;
    double level; ///< linear
    double decay; ///< seconds to fall by 60 dB
};

struct FirstClip {
    const char* name;
    Partial partials[5];
};

constexpr FirstClip first_clips[] = {
    {"drop-1", {{1870, 1.0, 0.09}, {2610, 0.7, 0.07}, {4230, 0.4, 0.05}, {6110, 0.2, 0.03}, {}}},
    {"oak-1", {{312, 1.0, 0.35}, {571, 0.6, 0.28}, {988, 0.5, 0.19}, {1544, 0.3, 0.13}, {2317, 0.2, 0.08}}},
    {"peg-1", {{1213, 1.0, 0.90}, {2790, 0.6, 0.70}, {4377, 0.4, 0.45}, {6870, 0.2, 0.25}, {9120, 0.1, 0.16}}},
};

/// In a folder of their own, so that their credit applies to no other file.
constexpr const char* clips_folder = "clips/examples";

constexpr int rate = 48000;

std::vector<short> strike(const FirstClip& clip) {
    double longest = 0, sum = 0;
    for (const Partial& partial : clip.partials) longest = std::max(longest, partial.decay), sum += partial.level;
    std::vector<short> samples(static_cast<std::size_t>(longest * rate));
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const double t = static_cast<double>(i) / rate;
        double sample = 0;
        for (const Partial& partial : clip.partials)
            if (partial.decay > 0)
                sample += partial.level * std::sin(2 * std::numbers::pi * partial.hertz * t) *
                          std::pow(10, -3 * t / partial.decay);
        samples[i] = static_cast<short>(std::lrint(0.4 * 32767 * sample / sum));
    }
    return samples;
}

/// Returns an empty text, or the error.
std::string write_clip(const fs::path& path, const std::vector<short>& samples) {
    SF_INFO info{};
    info.samplerate = rate;
    info.channels = 1;
    info.format = SF_FORMAT_WAV | SF_FORMAT_PCM_16;
    const std::unique_ptr<SNDFILE, decltype(&sf_close)> file(sf_open(path.string().c_str(), SFM_WRITE, &info),
                                                             &sf_close);
    const auto frames = static_cast<sf_count_t>(samples.size());
    if (!file || sf_write_short(file.get(), samples.data(), frames) != frames)
        return path.string() + ": " + sf_strerror(file.get());
    sf_write_sync(file.get());
    return {};
}

constexpr const char* first_toml = R"(# A Kiai project: clips, sounds, and the events that play them.
# `kiai check` finds every problem in this file; `kiai add FILE` registers more clips.
format = 1
name = {}

[clip]                               # name = file
drop-1 = "clips/examples/drop-1.wav"
oak-1 = "clips/examples/oak-1.wav"
peg-1 = "clips/examples/peg-1.wav"

[credit."clips/examples"]            # for all files in this folder
author = "The Kiai authors"
licence = "CC0-1.0"

[sound.strike]                       # a shuffle: each clip once per round
takes = ["drop-1", "oak-1", "peg-1"]
vary = {{ pitch = 1.0, gain = 2.0 }}   # up to ± semitones, ± dB, random per play

[[binding]]                          # your app calls engine.key_tap("Space")
trigger = {{ key-down = "Space" }}
action = {{ play = "strike" }}
)";

std::string quoted_name(const fs::path& folder) {
    std::error_code error;
    const std::string name = clip_name(fs::weakly_canonical(folder, error).filename() += ".x");
    return "\"" + (name.empty() ? "project" : name) + "\"";
}

} // namespace

std::string new_project(const fs::path& folder, bool empty) {
    std::error_code error;
    if (fs::exists(folder / "kiai.toml", error)) return (folder / "kiai.toml").string() + " already exists";
    const fs::path clips = folder / clips_folder;
    fs::create_directories(empty ? folder : clips, error);
    if (error) return clips.string() + ": " + error.message();
    if (empty)
        return workshop::write_atomically(folder / "kiai.toml",
                                          fmt::format("format = 1\nname = {}\n", quoted_name(folder)));
    const auto path_of = [&](const FirstClip& clip) { return clips / (std::string(clip.name) + ".wav"); };
    for (const FirstClip& clip : first_clips)
        if (fs::exists(path_of(clip), error)) return path_of(clip).string() + " already exists";
    for (const FirstClip& clip : first_clips)
        if (const std::string problem = write_clip(path_of(clip), strike(clip)); !problem.empty()) return problem;
    return workshop::write_atomically(folder / "kiai.toml", fmt::format(fmt::runtime(first_toml), quoted_name(folder)));
}

} // namespace kiai::inline v0
