// Reads clips whose samples the app provides in memory.
#include "core/dsp/math.h"
#include "core/model/fill.h"
#include "core/reader/project_reader.h"
#include "core/reader/samples.h"

#include <algorithm>
#include <cmath>

namespace kiai::reader {

std::string fault_of(const Samples& samples) {
    if (samples.channels < 1 || samples.channels > 2) return model::fill("{} channels", samples.channels);
    if (samples.rate < 1000 || samples.rate > 768000) return model::fill("a rate of {}", samples.rate);
    if (samples.interleaved.empty()) return "no frames";
    if (samples.interleaved.size() % static_cast<std::size_t>(samples.channels) != 0) return "half a frame at the end";
    const auto wrong = std::find_if_not(samples.interleaved.begin(), samples.interleaved.end(),
                                        [](float sample) { return std::isfinite(sample); });
    if (wrong != samples.interleaved.end())
        return model::fill("a sample that is NaN or infinite, at {}", wrong - samples.interleaved.begin());
    return {};
}

std::shared_ptr<model::Audio> audio_of(const Samples& samples) {
    auto audio = std::make_shared<model::Audio>();
    audio->rate = samples.rate;
    audio->channels = samples.channels;
    const auto channels = static_cast<std::size_t>(samples.channels);
    for (std::size_t channel = 0; channel < channels; ++channel)
        for (std::size_t i = channel; i < samples.interleaved.size(); i += channels)
            audio->wide.push_back(samples.interleaved[i]);
    audio->complete();
    return audio;
}

void take_samples(Draft& draft, Entry& entry, model::Clip clip) {
    static const std::map<std::string, Samples> none;
    const std::map<std::string, Samples>& all = draft.options.samples ? *draft.options.samples : none;
    const auto given = all.find(clip.name);
    if (given == all.end())
        return entry.doubt(FindingCode::not_given, Severity::warning, clip.source, "the app gave no samples",
                           "pass the samples in LoadOptions::samples");
    const Samples& samples = given->second;
    if (const std::string fault = fault_of(samples); !fault.empty())
        return entry.fail(FindingCode::bad_value, clip.source, model::fill("the app's samples have {}", fault),
                          "give one or two channels of finite numbers, at 1000 to 768000 frames per second");
    clip.audio = audio_of(samples);
    draft.clips[clip.name] = static_cast<int>(draft.project.clips.size());
    draft.project.clips.push_back(std::move(clip));
}

void take_placeholder(Draft& draft, model::Clip clip) {
    constexpr int rate = 48000, frames = 480;
    auto audio = std::make_shared<model::Audio>();
    audio->rate = rate;
    audio->channels = 1;
    for (int i = 0; i < frames; ++i) { // 10 ms of 1 kHz at -18 dBFS, rising and falling
        const double shape = 0.5 - 0.5 * dsp::sine(static_cast<double>(i) / frames + 0.25);
        audio->wide.push_back(static_cast<float>(0.126 * shape * dsp::sine(1000.0 * i / rate)));
    }
    audio->complete();
    clip.audio = std::move(audio);
    draft.clips[clip.name] = static_cast<int>(draft.project.clips.size());
    draft.project.clips.push_back(std::move(clip));
}

} // namespace kiai::reader
