#include "model/audio.h"

#include <algorithm>
#include <cmath>

namespace kiai::model {

void Audio::complete() {
    held = static_cast<std::int64_t>(std::max(narrow.size(), wide.size())) / channels;
    if (!stream) frames = held;
    envelope.assign(static_cast<std::size_t>((held + step() - 1) / step()), 0);
    for (int channel = 0; channel < channels; ++channel)
        for (std::int64_t i = 0; i < held; ++i) {
            float& most = envelope[static_cast<std::size_t>(i / step())];
            most = std::max(most, std::abs(at(channel, i)));
        }
}

} // namespace kiai::model
