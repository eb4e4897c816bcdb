#include "core/dsp/quarters.h"

#include "core/dsp/windowed_sinc.h"

#include <algorithm>
#include <cmath>
#include <cstddef>

namespace kiai::dsp {
Quarters::Quarters() noexcept {
    constexpr int half = span / 2;
    const WindowedSinc sinc(half, 5.0);
    for (int quarter = 1; quarter <= 3; ++quarter) {
        float all = 0;
        for (int k = 0; k < span; ++k) {
            const double x = k - (half - 1) - quarter / 4.0; // frames from the estimated place
            const double tap = sinc(x);
            taps[static_cast<std::size_t>((quarter - 1) * span + k)] = static_cast<float>(tap);
            all += std::fabs(static_cast<float>(tap));
        }
        norm = std::max(norm, all * 1.001f); // the kernels round
    }
}

} // namespace kiai::dsp
