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

/// The prototype between its stored points: in each interval Lagrange's polynomial through the eight points around it.
class Prototype {
  public:
    Prototype() {
        for (int left = -most; left < most; ++left) {
            Interval& interval = intervals_[static_cast<std::size_t>(left + most)];
            for (int i = 0; i < points; ++i) {
                const double height = stored(left - before + i) / below[i];
                double product[points] = {1}; // of (t + before - j), its coefficients from the lowest power on
                for (int j = 0, degree = 0; j < points; ++j) {
                    if (j == i) continue;
                    ++degree;
                    for (int power = degree; power >= 0; --power)
                        product[power] =
                            (power > 0 ? product[power - 1] : 0) + (power < degree ? product[power] * (before - j) : 0);
                }
                for (int power = 0; power < points; ++power) interval[power] += height * product[power];
            }
        }
    }

    /// `x` in stored points.
    double at(double x) const noexcept {
        int left = static_cast<int>(x);
        if (left > x) --left;
        if (left < -most || left >= most) return 0;
        const Interval& c = intervals_[static_cast<std::size_t>(left + most)];
        const double t = x - left, square = t * t;
        // In pairs, so that the products do not wait for each other.
        const double low = (c[0] + c[1] * t) + (c[2] + c[3] * t) * square;
        const double high = (c[4] + c[5] * t) + (c[6] + c[7] * t) * square;
        return low + high * (square * square);
    }

  private:
    static constexpr int points = 8, before = 3; ///< how many of the points lie before the interval's first
    static constexpr int most = prototype_taps * prototype_density / 2 + points;
    /// What the differences of the points multiply to, for each of them.
    static constexpr double below[points] = {-5040, 720, -240, 144, -144, 240, -720, 5040};
    using Interval = double[points];

    static double stored(int i) noexcept {
        i = std::abs(i);
        return i < static_cast<int>(std::size(prototype)) ? prototype[i] : 0;
    }

    Interval intervals_[2 * most] = {};
};

/// The prototype stretched in time by `ratio`, and so narrowed in frequency.
Filter make(const Prototype& impulse, double ratio) {
    Filter filter;
    const int span = 2 * static_cast<int>(std::ceil(prototype_taps * ratio / 2));
    filter.taps = (span + 15) / 16 * 16;
    filter.before = filter.taps / 2 - 1;
    filter.rows = static_cast<int>(std::ceil(rows_at_unity / ratio));
    filter.table.resize(static_cast<std::size_t>(filter.rows + 1) * static_cast<std::size_t>(filter.taps / 16));
    // The prototype is symmetric, so the second half of the rows is the first half backwards.
    float* const table = filter.table.front().taps;
    const auto row = [&](int r) { return table + static_cast<std::ptrdiff_t>(r) * filter.taps; };
    const double scale = prototype_density / ratio, gain = 1 / ratio;
    for (int r = 0; 2 * r <= filter.rows; ++r) {
        const double place = filter.before + static_cast<double>(r) / filter.rows;
        float *const out = row(r), *const mirrored = row(filter.rows - r) + filter.taps - 1;
        for (int k = 0; k < filter.taps; ++k) {
            out[k] = static_cast<float>(impulse.at((k - place) * scale) * gain);
            mirrored[-k] = out[k];
        }
    }
    return filter;
}

} // namespace

FilterBank::FilterBank() {
    const Prototype impulse;
    for (int step = 0; step <= steps_per_octave * octaves; ++step) {
        ratios_.push_back(exp2(static_cast<double>(step) / steps_per_octave));
        filters_.push_back(make(impulse, ratios_.back()));
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
