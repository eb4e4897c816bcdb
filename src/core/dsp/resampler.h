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
    /// Whether there is one from a rate to another: not where their ratio has large numbers, as 44,056 to 48,000, since
    /// its table would be large too. Frames per second, above 0.
    static bool can(int from, int to) noexcept;
    /// Of rates that it can. [control]
    Resampler(int from, int to, const Kernels& kernels);
    int target_rate() const noexcept { return target_rate_; }
    /// Frames that so many become: the last lies within the clip.
    std::int64_t length(std::int64_t frames) const noexcept { return (frames * to_ + from_ - 1) / from_; }
    /// Appends one channel, converted. Before and after it is silence. [control]
    void append(std::span<const float> samples, std::vector<float>& out) const;

  private:
    const Kernels& kernels_;
    int target_rate_;
    std::int64_t from_, to_;   ///< the ratio in its lowest terms
    int half_ = 0, taps_ = 0;  ///< taps up to the place, and all: a multiple of what the kernel sums side by side
    std::vector<float> table_; ///< to_ rows of taps, one for each place between two frames
};

} // namespace kiai::dsp
