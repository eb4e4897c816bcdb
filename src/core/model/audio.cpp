#include "core/model/audio.h"

#include "core/dsp/bits.h"
#include "core/dsp/resampler.h"

#include <algorithm>
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

/// Magnitudes as integers have the same order, with infinity and NaN above all others.
float largest(std::span<const float> samples) {
    constexpr std::int32_t without_sign = 0x7fffffff;
    std::int32_t most = 0;
    for (const float sample : samples) most = std::max(most, dsp::bits_as<std::int32_t>(sample) & without_sign);
    return dsp::bits_as<float>(most);
}

constexpr float most_held = 1000;

/// Holds a part of the samples in range and returns its largest magnitude. `bad`, if it is still below 0, becomes the
/// index of the part's first sample that is no number, counted in all samples.
float hold_part(std::span<float> all, std::size_t first, std::size_t count, std::ptrdiff_t& bad) {
    const std::span<float> part = all.subspan(first, count);
    const float most = largest(part);
    if (most <= most_held) return most;
    if (bad < 0 && !std::isfinite(most)) {
        const auto place =
            std::find_if_not(part.begin(), part.end(), [](float sample) { return std::isfinite(sample); });
        bad = static_cast<std::ptrdiff_t>(first) + (place - part.begin());
    }
    hold_in_range(part);
    return largest(part);
}

} // namespace

std::ptrdiff_t Audio::complete() {
    held = static_cast<std::int64_t>(std::max(narrow.size(), wide.size())) / channels;
    if (!stream) frames = held;
    envelope.assign(static_cast<std::size_t>((held + step() - 1) / step()), 0);
    std::ptrdiff_t bad = -1;
    for (int channel = 0; channel < channels; ++channel)
        for (std::size_t part = 0; part < envelope.size(); ++part) {
            const auto begin = static_cast<std::int64_t>(part) * step();
            const auto first = static_cast<std::size_t>(channel * held + begin),
                       count = static_cast<std::size_t>(std::min<std::int64_t>(step(), held - begin));
            const float most =
                wide.empty() ? largest(std::span(narrow).subspan(first, count)) : hold_part(wide, first, count, bad);
            envelope[part] = std::max(envelope[part], most);
        }
    return bad;
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
    for (float& sample : samples) sample = std::isfinite(sample) ? std::clamp(sample, -most_held, most_held) : 0;
}

} // namespace kiai::model
