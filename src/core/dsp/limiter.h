// Protects an output from peaks: looks ahead, estimates the peak between frames, and lowers the gain in time.
#pragma once

#include "core/dsp/kernels.h"
#include "core/dsp/quarters.h"

#include <cstdint>
#include <vector>

namespace kiai::dsp {

/// A stereo limiter with a threshold of -0.5 dBTP by its own estimate at four times the rate. Below the threshold and
/// after its release, the output is the input, bit for bit, delayed by `latency()`. The gain is the minimum that any
/// frame in the look-ahead needs. It is held for half a period of 19 Hz so that it does not follow the waves of a bass,
/// rises by 320 dB per second, and is averaged over the look-ahead, so it falls in time and never jumps. It is an
/// integer, so that "released" is exactly 1 and every block size gives the same bits. The output is always finite and
/// within ±1; a NaN in the input counts as silence.
class Limiter {
  public:
    /// [control] Allocates all memory. `rate`: frames per second, 8000 … 192000.
    Limiter(int rate, const Kernels& kernels);

    /// Returns the delay from input to output in frames: 1.7 ms at 48 kHz. [any]
    int latency() const noexcept { return look_ + half_span + 1; }

    /// Processes `frames` frames (up to `most_frames`) into `out`, interleaved. [rt]
    void process(const float* left, const float* right, int frames, float* out) noexcept;

    static constexpr int most_frames = 1024;

    /// Returns the minimum gain of the last call of `process`; 1: the limiter changed nothing. [rt]
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
