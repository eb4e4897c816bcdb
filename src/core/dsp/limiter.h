// Guards an output against peaks: looks ahead, estimates the peak between frames, and lowers the gain before it comes.
#pragma once

#include "core/dsp/kernels.h"
#include "core/dsp/quarters.h"

#include <cstdint>
#include <vector>

namespace kiai::dsp {

/// A stereo limiter with a threshold of -0.5 dBTP by its own estimate at four times the rate. Below the threshold its
/// output is its input, bit for bit, delayed by `latency()`, and so it is again once it has released. The gain is the
/// least that any frame in the look-ahead needs, held for half a period of 19 Hz so that it does not follow the waves
/// of a bass, then let rise by 320 dB a second, and averaged over the look-ahead: it falls in time and never jumps. It
/// is counted in whole numbers, so that "released" is exactly 1 and blocks of any size give the same bits. Whatever
/// comes in, what goes out is finite and within ±1: a sample that is no number counts as silence.
class Limiter {
  public:
    /// [control] Takes all memory. `rate` in frames per second, 8000 … 192000.
    Limiter(int rate, const Kernels& kernels);

    /// Frames from input to output: 1.7 ms at 48 kHz. [any]
    int latency() const noexcept { return look_ + half_span + 1; }

    /// Processes `frames` frames (up to `most_frames`) into `out`, interleaved. [rt]
    void process(const float* left, const float* right, int frames, float* out) noexcept;

    static constexpr int most_frames = 1024;

    /// The least gain of the last call of `process`; 1: it changed nothing. [rt]
    float least_gain() const noexcept { return least_gain_; }

  private:
    static constexpr int span = Quarters::span, half_span = span / 2;
    static constexpr std::int32_t one = 1 << 30;

    std::int32_t needed(int frame) const noexcept;
    std::int32_t least(std::int32_t gain) noexcept;

    const Kernels& kernels_;
    int look_, hold_;
    std::int64_t rise_; // per frame, as a fraction of `one`
    Quarters quarters_;
    float threshold_;

    std::vector<float> left_, right_; // the last `latency()` frames, then the block

    struct Held {
        std::int64_t frame;
        std::int32_t gain;
    };
    std::vector<Held> held_; // a ring: gains below one within look-ahead and hold, each higher than those before it
    std::size_t first_ = 0, count_ = 0;
    std::vector<std::int32_t> window_; // the last `look_` gains
    std::size_t oldest_ = 0;
    std::int64_t sum_;
    std::int32_t gain_ = one;
    std::int64_t clock_ = 0;
    float least_gain_ = 1;
};

} // namespace kiai::dsp
