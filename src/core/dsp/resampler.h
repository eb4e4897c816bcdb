// Whole clips from one rate to another, once, before they are played.
#pragma once

#include "core/dsp/kernels.h"

#include <cstdint>
#include <span>
#include <vector>

namespace kiai::dsp {

/// A polyphase low-pass: flat to 0.95 of the lower of both half rates, and 115 dB down from 1.05 of it on. Linear
/// phase, and no delay: the first frame stays the first. The same samples on every processor.
class Resampler {
  public:
    /// Frames per second, above 0. [control]
    Resampler(int from, int to, const Kernels& kernels);
    int target_rate() const noexcept { return target_rate_; }
    /// Frames that so many become: the last lies within the clip.
    std::int64_t length(std::int64_t frames) const noexcept { return (frames * to_ + from_ - 1) / from_; }
    /// Appends one channel, converted. What lies before and after counts as silence. [control]
    void append(std::span<const float> samples, std::vector<float>& out) const;

  private:
    const Kernels& kernels_;
    int target_rate_;
    static constexpr int lanes = 16;       ///< sums that the kernel makes side by side
    static constexpr int most_rows = 2048; ///< beyond it two rows are blended, which adds -130 dB

    std::int64_t from_, to_;   ///< the ratio in its lowest terms
    int rows_;                 ///< places between two frames that have taps of their own
    int half_ = 0, taps_ = 0;  ///< taps up to the place, and all: a multiple of the lanes
    std::vector<float> table_; ///< rows_ + 1 times taps_
};

} // namespace kiai::dsp
