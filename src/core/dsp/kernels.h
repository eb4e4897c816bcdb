// The inner loops: one table of functions, in a portable and in a vectorised version. The engine chooses one when it is
// made.
#pragma once

#include "core/dsp/filter_bank.h"

#include <cstdint>

namespace kiai::dsp {

constexpr int cell = 64; ///< frames of the clock over which one level is measured

/// Positions of output frames at a constant ratio of up to 2: the first position and the step, both in whole frames and
/// 2^-64ths of one.
struct Stride {
    std::uint64_t fraction = 0; ///< of the first place; its whole frame counts as 0
    std::uint64_t step_fraction = 0;
    std::uint32_t step = 0;
};
constexpr int most_places = 256;

/// A second-order filter in direct form II, transposed, and its state for the left and the right side.
struct Biquad {
    double b0, b1, b2, a1, a2;
};
struct BiquadState {
    double first[2] = {}, second[2] = {};
};

struct Kernels {
    const char* name;

    /// Computes the positions of up to most_places frames for a filter. The result is exact, so it does not depend on
    /// how the frames are cut. The arrays have room for most_places.
    void (*place)(const Stride& stride, const Filter& filter, int frames, std::int32_t* first, std::int32_t* row,
                  float* blend);

    /// Sets out[i] to the source at the i-th position. `source` contains every frame that the taps reach. The order of
    /// operations of each output frame does not depend on `frames`.
    void (*interpolate)(const float* source, const Filter& filter, const Places& places, int frames, float* out);

    /// left[i] += source[i] * gain_left, and right in the same way. Raises peaks[c] to the largest magnitude that was
    /// added to either side within a cell: the first cell has `first` frames (from 1), each later one `cell`.
    void (*mix_mono)(const float* source, float gain_left, float gain_right, float* left, float* right, int frames,
                     int first, float* peaks);

    /// out[i] += source[i] * gain, with the same peaks.
    void (*mix_side)(const float* source, float gain, float* out, int frames, int first, float* peaks);

    /// out[i] = source[i] / 32768.
    void (*widen)(const std::int16_t* source, int frames, float* out);

    /// Returns the largest magnitude.
    float (*peak)(const float* source, int frames);

    /// Returns the largest magnitude of a signal between frame 0 and frame 1, on a grid of quarters. taps[p] are `span`
    /// taps for quarter p = 1, 2, 3; `source` points at the frame of the first tap.
    float (*between)(const float* source, const float* taps, int span);

    /// The same for that many frames in turn. `source` contains 15 values more than the taps reach; they do not count.
    float (*most_between)(const float* source, const float* taps, int span, int frames);

    /// Returns the sum of source[k] * taps[k] over `count` values, a multiple of 16. Sixteen partial sums are added
    /// pairwise, so that every version gives the same bits.
    float (*dot)(const float* source, const float* taps, int count);

    /// Filters both sides by two filters in turn, and returns the sum of the squares of the result. Null: silence.
    double (*weigh)(const float* left, const float* right, int frames, const Biquad (&filters)[2],
                    BiquadState (&states)[2]);
};

const Kernels& portable_kernels() noexcept;
/// Returns the fastest version for this processor.
const Kernels& vector_kernels() noexcept;

} // namespace kiai::dsp
