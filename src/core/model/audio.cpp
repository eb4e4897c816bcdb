#include "core/model/audio.h"

#include "core/dsp/resampler.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <mutex>

namespace kiai::model {
namespace {

std::mutex converting; ///< of what clips keep; never held while one is converted

float largest(std::span<const std::int16_t> samples) {
    int most = 0;
    for (const std::int16_t sample : samples) most = std::max(most, std::abs(static_cast<int>(sample)));
    return static_cast<float>(most) / 32768;
}

/// In lanes, because a compiler does not reorder comparisons of floats.
float largest(std::span<const float> samples) {
    std::array<float, 16> most{};
    std::size_t i = 0;
    for (; i + most.size() <= samples.size(); i += most.size())
        for (std::size_t lane = 0; lane < most.size(); ++lane) {
            const float now = std::fabs(samples[i + lane]);
            most[lane] = now > most[lane] ? now : most[lane];
        }
    for (; i < samples.size(); ++i) most[0] = std::max(most[0], std::fabs(samples[i]));
    return *std::max_element(most.begin(), most.end());
}

} // namespace

void Audio::complete() {
    hold_in_range(wide);
    held = static_cast<std::int64_t>(std::max(narrow.size(), wide.size())) / channels;
    if (!stream) frames = held;
    envelope.assign(static_cast<std::size_t>((held + step() - 1) / step()), 0);
    for (int channel = 0; channel < channels; ++channel)
        for (std::size_t part = 0; part < envelope.size(); ++part) {
            const auto begin = static_cast<std::int64_t>(part) * step();
            const auto first = static_cast<std::size_t>(channel * held + begin),
                       count = static_cast<std::size_t>(std::min<std::int64_t>(step(), held - begin));
            const float most = wide.empty() ? largest(std::span(narrow).subspan(first, count))
                                            : largest(std::span(wide).subspan(first, count));
            envelope[part] = std::max(envelope[part], most);
        }
}

std::shared_ptr<const Audio> Audio::at_rate(int other) const {
    const std::lock_guard lock(converting);
    return converted_ && converted_->rate == other ? converted_ : nullptr;
}

std::shared_ptr<const Audio> Audio::convert(const dsp::Resampler& resampler) const {
    auto made = std::make_shared<Audio>();
    made->rate = resampler.target_rate();
    made->channels = channels;
    made->wide.reserve(static_cast<std::size_t>(resampler.length(held) * channels));
    std::vector<float> side(static_cast<std::size_t>(held));
    for (int channel = 0; channel < channels; ++channel) {
        for (std::int64_t frame = 0; frame < held; ++frame) side[static_cast<std::size_t>(frame)] = at(channel, frame);
        resampler.append(side, made->wide);
    }
    made->complete();
    const std::lock_guard lock(converting);
    return converted_ = std::move(made);
}

void hold_in_range(std::span<float> samples) noexcept {
    constexpr float most = 1000;
    for (float& sample : samples) sample = std::isfinite(sample) ? std::clamp(sample, -most, most) : 0;
}

} // namespace kiai::model
