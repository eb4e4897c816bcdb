#include "core/dsp/stretch.h"

#include <algorithm>

namespace kiai::dsp {

StretchedInterpolator::StretchedInterpolator(int most_frames, int most_source)
    : phases_(static_cast<std::size_t>(most_source + 2 * most_stretch)), first_(static_cast<std::size_t>(most_frames)),
      row_(first_.size()), blend_(first_.size()), parts_(first_.size()) {}

void StretchedInterpolator::interpolate(const Kernels& kernels, const float* source, const Stretched& filter,
                                        const std::int32_t* first, const std::uint32_t* fraction, int frames,
                                        float* out) noexcept {
    const int stretch = filter.stretch, reach = first[frames - 1] + filter.taps();
    const int length = (reach + stretch - 1) / stretch;
    for (int phase = 0; phase < stretch; ++phase) {
        float* const to = phases_.data() + phase * length;
        for (int i = 0; phase + i * stretch < reach; ++i) to[i] = source[phase + i * stretch];
    }
    const int at_a_time = static_cast<int>(first_.size()) / stretch;
    const float scale = 1.0f / static_cast<float>(stretch);
    for (int begin = 0; begin < frames; begin += at_a_time) {
        const int end = std::min(begin + at_a_time, frames);
        std::size_t part = 0;
        for (int i = begin; i < end; ++i)
            for (int d = 0; d < stretch; ++d, ++part) { // what the taps d, d + stretch … meet
                const int frame = first[i] + d;
                first_[part] = frame % stretch * length + frame / stretch;
                const auto ahead = static_cast<std::uint64_t>(stretch - 1 - d) << 32;
                const std::uint64_t exact = // 32.32: which row, and how far to the next
                    (ahead + fraction[i]) / static_cast<std::uint64_t>(stretch) *
                    static_cast<std::uint64_t>(filter.filter->rows);
                row_[part] = static_cast<std::int32_t>(exact >> 32) * filter.filter->taps;
                blend_[part] = static_cast<float>(static_cast<std::int32_t>(exact >> 1 & 0x7fffffff)) * 0x1p-31f;
            }
        kernels.interpolate(phases_.data(), *filter.filter, {first_.data(), row_.data(), blend_.data()},
                            static_cast<int>(part), parts_.data());
        const float* parts = parts_.data();
        for (int i = begin; i < end; ++i) {
            float sum = 0;
            for (int d = 0; d < stretch; ++d) sum += *parts++;
            out[i] = sum * scale;
        }
    }
}

} // namespace kiai::dsp
