// The taps that estimate a signal between two frames, at a quarter, a half and three quarters of the way.
#pragma once

#include <array>

namespace kiai::dsp {

struct Quarters {
    static constexpr int span = 32; ///< taps of each, around the place
    std::array<float, 3 * span> taps{};
    /// An estimate is at most this times the largest sample around it.
    float norm = 0;

    Quarters() noexcept;
};

} // namespace kiai::dsp
