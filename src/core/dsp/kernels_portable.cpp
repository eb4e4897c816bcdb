// The portable kernels. Each sum has a fixed order, so the result has the same bits everywhere.
#include "core/dsp/kernels.h"

#include <algorithm>
#include <cmath>

namespace kiai::dsp {
namespace {

void place(const Stride& stride, const Filter& filter, int frames, std::int32_t* first, std::int32_t* row,
           float* blend) {
    const auto rows = static_cast<std::uint64_t>(filter.rows);
    std::uint64_t fraction = stride.fraction;
    std::int32_t index = 0;
    for (int i = 0; i < frames; ++i) {
        const std::uint64_t exact = (fraction >> 32) * rows; // 32.32: which row, and how far to the next
        first[i] = index;
        row[i] = static_cast<std::int32_t>(exact >> 32) * filter.taps;
        blend[i] = static_cast<float>(static_cast<std::int32_t>(exact >> 1 & 0x7fffffff)) * 0x1p-31f;
        const std::uint64_t next = fraction + stride.step_fraction;
        index += static_cast<std::int32_t>(stride.step) + (next < fraction ? 1 : 0);
        fraction = next;
    }
}

void interpolate(const float* source, const Filter& filter, const Places& places, int frames, float* out) {
    for (int i = 0; i < frames; ++i) {
        const float* x = source + places.first[i];
        const float* here = filter.data() + places.row[i];
        const float* next = here + filter.taps;
        float a = 0, b = 0;
        for (int k = 0; k < filter.taps; ++k) {
            a += here[k] * x[k];
            b += next[k] * x[k];
        }
        out[i] = a + places.blend[i] * (b - a);
    }
}

/// Calls `body(begin, end, peaks + c)` for each cell.
template<class Body>
void per_cell(int frames, int first, float* peaks, Body body) {
    for (int begin = 0, end = std::min(first, frames); begin < frames; begin = end, end = std::min(end + cell, frames))
        body(begin, end, *peaks++);
}

void mix_mono(const float* source, float gain_left, float gain_right, float* left, float* right, int frames, int first,
              float* peaks) {
    const float louder = std::max(std::fabs(gain_left), std::fabs(gain_right));
    per_cell(frames, first, peaks, [&](int begin, int end, float& peak) {
        float most = 0;
        for (int i = begin; i < end; ++i) {
            left[i] += source[i] * gain_left;
            right[i] += source[i] * gain_right;
            most = std::max(most, std::fabs(source[i]));
        }
        peak = std::max(peak, most * louder);
    });
}

void mix_side(const float* source, float gain, float* out, int frames, int first, float* peaks) {
    per_cell(frames, first, peaks, [&](int begin, int end, float& peak) {
        float most = 0;
        for (int i = begin; i < end; ++i) {
            out[i] += source[i] * gain;
            most = std::max(most, std::fabs(source[i]));
        }
        peak = std::max(peak, most * std::fabs(gain));
    });
}

void widen(const std::int16_t* source, int frames, float* out) {
    for (int i = 0; i < frames; ++i) out[i] = static_cast<float>(source[i]) * (1.0f / 32768);
}

float peak(const float* source, int frames) {
    float most = 0;
    for (int i = 0; i < frames; ++i) most = std::max(most, std::fabs(source[i]));
    return most;
}

float between(const float* source, const float* taps, int span) {
    float most = 0;
    for (int quarter = 0; quarter < 3; ++quarter, taps += span) {
        float sum = 0;
        for (int k = 0; k < span; ++k) sum += taps[k] * source[k];
        most = std::max(most, std::fabs(sum));
    }
    return most;
}

float most_between(const float* source, const float* taps, int span, int frames) {
    float most = 0;
    for (int i = 0; i < frames; ++i) most = std::max(most, between(source + i, taps, span));
    return most;
}

float dot(const float* source, const float* taps, int count) {
    float sums[16] = {};
    for (int k = 0; k < count; k += 16)
        for (int lane = 0; lane < 16; ++lane) sums[lane] += source[k + lane] * taps[k + lane];
    for (int width = 8; width > 0; width /= 2)
        for (int lane = 0; lane < width; ++lane) sums[lane] += sums[lane + width];
    return sums[0];
}

double weigh(const float* left, const float* right, int frames, const Biquad (&filters)[2], BiquadState (&states)[2]) {
    double sum = 0;
    for (int side = 0; side < 2; ++side) {
        const float* source = side == 0 ? left : right;
        for (int i = 0; i < frames; ++i) {
            double value = source ? static_cast<double>(source[i]) : 0;
            for (int f = 0; f < 2; ++f) {
                const Biquad& filter = filters[f];
                double &first = states[f].first[side], &second = states[f].second[side];
                const double in = value;
                value = filter.b0 * in + first;
                first = filter.b1 * in + second - filter.a1 * value;
                second = filter.b2 * in - filter.a2 * value;
            }
            sum += value * value;
        }
    }
    return sum;
}

} // namespace

const Kernels& portable_kernels() noexcept {
    static constexpr Kernels table{"plain", place,   interpolate,  mix_mono, mix_side, widen,
                                   peak,    between, most_between, dot,      weigh};
    return table;
}

#ifdef KIAI_NO_VECTORS
const Kernels& vector_kernels() noexcept {
    return portable_kernels();
}
#endif

} // namespace kiai::dsp
