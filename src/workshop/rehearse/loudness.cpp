#include "workshop/rehearse/loudness.h"

#include "workshop/facts/measure.h"

namespace kiai::workshop {

Facts measure_samples(const std::vector<float>& samples, int rate) {
    Facts facts;
    if (samples.empty()) return facts;
    model::Audio audio;
    audio.rate = facts.rate = rate;
    audio.channels = facts.channels = 2;
    for (std::size_t side = 0; side < 2; ++side)
        for (std::size_t i = side; i < samples.size(); i += 2) audio.wide.push_back(samples[i]);
    audio.complete();
    facts.frames = audio.frames;
    workshop::measure(audio, facts);
    return facts;
}

} // namespace kiai::workshop
