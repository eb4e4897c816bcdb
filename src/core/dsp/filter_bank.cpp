#include "core/dsp/filter_bank.h"

#include "core/dsp/math.h"

#include <algorithm>
#include <cmath>

namespace kiai::dsp {
namespace {

#include "core/dsp/prototype.inc"

constexpr int steps_per_octave = 24;
constexpr int octaves = 5;
constexpr int rows_at_unity = 256; // at 10 kHz of 48 the blend between rows then errs by -110 dB

double stored(int i) noexcept {
    i = std::abs(i);
    return i < static_cast<int>(std::size(prototype)) ? prototype[i] : 0;
}

/// The prototype between its stored points, by Lagrange's polynomial through the eight around. `time` in frames.
double impulse(double time) noexcept {
    const double x = time * prototype_density;
    const int left = static_cast<int>(std::floor(x));
    const double t = x - left;
    // What the differences of the points multiply to, for each of them.
    constexpr double below[8] = {-5040, 720, -240, 144, -144, 240, -720, 5040};
    double sum = 0;
    for (int i = 0; i < 8; ++i) {
        double weight = 1;
        for (int j = 0; j < 8; ++j)
            if (j != i) weight *= t + 3 - j;
        sum += weight / below[i] * stored(left - 3 + i);
    }
    return sum;
}

/// The prototype stretched in time by `ratio`, and so narrowed in frequency.
Filter make(double ratio) {
    Filter filter;
    const int span = 2 * static_cast<int>(std::ceil(prototype_taps * ratio / 2));
    filter.taps = (span + 15) / 16 * 16;
    filter.before = filter.taps / 2 - 1;
    filter.rows = static_cast<int>(std::ceil(rows_at_unity / ratio));
    filter.table.resize(static_cast<std::size_t>(filter.rows + 1) * static_cast<std::size_t>(filter.taps / 16));
    float* out = filter.table.front().taps;
    for (int r = 0; r <= filter.rows; ++r)
        for (int k = 0; k < filter.taps; ++k)
            *out++ =
                static_cast<float>(impulse((k - filter.before - static_cast<double>(r) / filter.rows) / ratio) / ratio);
    return filter;
}

} // namespace

FilterBank::FilterBank() {
    for (int step = 0; step <= steps_per_octave * octaves; ++step) {
        ratios_.push_back(exp2(static_cast<double>(step) / steps_per_octave));
        filters_.push_back(make(ratios_.back()));
    }
}

const FilterBank& FilterBank::instance() {
    static const FilterBank bank;
    return bank;
}

const Filter& FilterBank::for_ratio(double ratio) const noexcept {
    const double rounding = 1 - 1e-9; // a whole semitone is one of the steps, whichever way its last bit fell
    const auto at = std::lower_bound(ratios_.begin(), ratios_.end() - 1, ratio * rounding);
    return filters_[static_cast<std::size_t>(at - ratios_.begin())];
}

} // namespace kiai::dsp
