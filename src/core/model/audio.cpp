#include "core/model/audio.h"

#include <algorithm>
#include <cmath>

namespace kiai::model {

void Audio::complete() {
    hold_in_range(wide);
    held = static_cast<std::int64_t>(std::max(narrow.size(), wide.size())) / channels;
    if (!stream) frames = held;
    envelope.assign(static_cast<std::size_t>((held + step() - 1) / step()), 0);
    for (int channel = 0; channel < channels; ++channel)
        for (std::int64_t i = 0; i < held; ++i) {
            float& most = envelope[static_cast<std::size_t>(i / step())];
            most = std::max(most, std::abs(at(channel, i)));
        }
}

void hold_in_range(std::span<float> samples) noexcept {
    constexpr float most = 1000;
    for (float& sample : samples) sample = std::isfinite(sample) ? std::clamp(sample, -most, most) : 0;
}

} // namespace kiai::model
