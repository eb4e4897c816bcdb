// Converts whole clips from one rate to another, before they are played.
#pragma once

#include "core/dsp/kernels.h"

#include <cstdint>
#include <span>
#include <vector>

namespace kiai::dsp {

/// A polyphase low-pass: flat to 0.95 of the lower Nyquist frequency, and 115 dB down from 1.05 of it on. It has linear
/// phase and no delay: the first frame stays the first. The samples are the same on every processor.
class Resampler {
  public:
    /// Returns true if there is a resampler between two rates, in frames per second, above 0. There is none if their
    /// ratio has large numbers, such as 44,056 to 48,000, because its table would be large.
    static bool can(int from, int to) noexcept;
    /// Both rates must satisfy `can`. [control]
    Resampler(int from, int to, const Kernels& kernels);
    int target_rate() const noexcept { return target_rate_; }
    /// Returns the length of the converted clip in frames. The last frame is within the clip.
    std::int64_t length(std::int64_t frames) const noexcept { return (frames * to_ + from_ - 1) / from_; }
    /// Converts one channel and appends it. The signal is silent before and after the clip. [control]
    void append(std::span<const float> samples, std::vector<float>& out) const;

  private:
    const Kernels& kernels_;
    int target_rate_;
    std::int64_t from_, to_;   ///< the ratio in its lowest terms
    int half_ = 0, taps_ = 0;  ///< taps up to the place, and all: a multiple of what the kernel sums side by side
    std::vector<float> table_; ///< to_ rows of taps, one for each place between two frames
};

} // namespace kiai::dsp
