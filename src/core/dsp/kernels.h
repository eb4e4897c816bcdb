// The inner loops: one table of functions, in a plain and in a vectorised make. Which one is chosen when an engine is
// made.
#pragma once

#include "core/dsp/filter_bank.h"

#include <cstdint>

namespace kiai::dsp {

constexpr int cell = 64; ///< frames of the clock over which one level is measured

/// Places of output frames at a ratio that stays, up to 2: the first position, and the distance to the next, both in
/// whole frames and 2^-64ths of one.
struct Stride {
    std::uint64_t fraction = 0; ///< of the first place; its whole frame counts as 0
    std::uint64_t step_fraction = 0;
    std::uint32_t step = 0;
};
constexpr int most_places = 256;

struct Kernels {
    const char* name;

    /// Sets the places of up to most_places frames, for a filter: exactly, so that how they are cut makes no
    /// difference. The arrays have room for most_places.
    void (*place)(const Stride& stride, const Filter& filter, int frames, std::int32_t* first, std::int32_t* row,
                  float* blend);

    /// out[i] = the source at the i-th place. `source` holds every frame that a place's taps reach. Each output frame
    /// is computed in the same order of operations whatever `frames` is.
    void (*interpolate)(const float* source, const Filter& filter, const Places& places, int frames, float* out);

    /// left[i] += source[i] * gain_left, the same way right. Raises peaks[c] to the largest magnitude of either side
    /// that was added within a cell: the first has `first` frames (from 1), each later one `cell`.
    void (*mix_mono)(const float* source, float gain_left, float gain_right, float* left, float* right, int frames,
                     int first, float* peaks);

    /// out[i] += source[i] * gain, and the peaks as above.
    void (*mix_side)(const float* source, float gain, float* out, int frames, int first, float* peaks);

    /// out[i] = source[i] / 32768.
    void (*widen)(const std::int16_t* source, int frames, float* out);

    /// The largest magnitude.
    float (*peak)(const float* source, int frames);

    /// The largest magnitude of a signal between frame 0 and frame 1, on a grid of quarters: taps[p] are `span` taps
    /// for quarter p = 1, 2, 3; source points at the frame of the first tap.
    float (*between)(const float* source, const float* taps, int span);

    /// The sum of source[k] * taps[k] over `count` of them, a multiple of 16. Sixteen sums are made side by side and
    /// joined by halves, so that every make gives the same bits.
    float (*dot)(const float* source, const float* taps, int count);
};

const Kernels& portable_kernels() noexcept;
/// The best that this processor runs.
const Kernels& vector_kernels() noexcept;

} // namespace kiai::dsp
