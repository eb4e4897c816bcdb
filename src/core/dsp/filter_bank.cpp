#include "core/dsp/filter_bank.h"

#include "core/dsp/math.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <span>

namespace kiai::dsp {
namespace {

#include "core/dsp/prototype.inc"

constexpr int steps_per_octave = 24;
constexpr int rows_at_unity = 256;                 // at 10 kHz of 48 the blend between rows then errs by -110 dB
constexpr double lowest_that_folds_high = 5.0 / 6; // below it, what `up` lets through would fold below 20 kHz of 48

/// One of the two prototypes that scripts/design-prototype makes.
struct Design {
    int taps = 0; ///< frames that it spans at ratio 1
    std::span<const double> heights;
};
constexpr Design up{up_taps, up_points}, down{down_taps, down_points};

/// Interpolates the prototype between its stored points: Lagrange's polynomial through the eight points around each
/// interval.
class Prototype {
  public:
    explicit Prototype(const Design& design)
        : taps(design.taps), heights_(design.heights), most_(design.taps * prototype_density / 2 + points),
          intervals_(static_cast<std::size_t>(2 * most_)) {
        for (int left = -most_; left < most_; ++left) {
            Interval& interval = intervals_[static_cast<std::size_t>(left + most_)];
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
                for (std::size_t power = 0; power < points; ++power) interval[power] += height * product[power];
            }
        }
    }

    /// Sets values[i] to the prototype at x[i], in stored points; x descends.
    void at(std::span<const double> x, std::span<double> values) const noexcept {
        for (std::size_t begin = 0, end = 0; begin < x.size(); begin = end) {
            const double left = std::floor(x[begin]);
            while (end < x.size() && x[end] >= left) ++end; // those of one interval
            if (left < -most_ || left >= most_) {
                for (std::size_t i = begin; i < end; ++i) values[i] = 0;
                continue;
            }
            const Interval& c = intervals_[static_cast<std::size_t>(static_cast<int>(left) + most_)];
            for (std::size_t i = begin; i < end; ++i) {
                const double t = x[i] - left, square = t * t;
                // Evaluated in pairs, so that the products do not wait for each other.
                const double low = (c[0] + c[1] * t) + (c[2] + c[3] * t) * square;
                const double high = (c[4] + c[5] * t) + (c[6] + c[7] * t) * square;
                values[i] = low + high * (square * square);
            }
        }
    }

    const int taps;

  private:
    static constexpr int points = 8, before = 3; ///< how many of the points precede the interval
    /// The product of each point's differences from the others: the denominators of Lagrange's formula.
    static constexpr double below[points] = {-5040, 720, -240, 144, -144, 240, -720, 5040};
    using Interval = std::array<double, points>;

    double stored(int i) const noexcept {
        const auto at = static_cast<std::size_t>(std::abs(i));
        return at < heights_.size() ? heights_[at] : 0;
    }

    std::span<const double> heights_;
    int most_;
    std::vector<Interval> intervals_;
};

/// Makes the filter: the prototype stretched in time by `ratio`, and so narrowed in frequency.
Filter make(const Prototype& impulse, double ratio) {
    Filter filter;
    const int span = 2 * static_cast<int>(std::ceil(impulse.taps * ratio / 2));
    filter.taps = (span + 15) / 16 * 16;
    filter.before = filter.taps / 2 - 1;
    filter.rows = static_cast<int>(std::ceil(rows_at_unity / ratio));
    filter.table.resize(static_cast<std::size_t>(filter.rows + 1) * static_cast<std::size_t>(filter.taps / 16));
    // The prototype is symmetric, so the second half of the rows is the first half reversed. The loop computes sixteen
    // taps of all rows at a time, because neighbouring rows need the same interval of the prototype and sixteen taps
    // are contiguous.
    float* const table = filter.table.front().taps;
    const auto row = [&](std::size_t r) { return table + r * static_cast<std::size_t>(filter.taps); };
    const double scale = prototype_density / ratio, gain = 1 / ratio;
    const auto rows = static_cast<std::size_t>(filter.rows), half = rows / 2 + 1;
    std::vector<double> places(half), x(half), values(16 * half);
    for (std::size_t r = 0; r < half; ++r) places[r] = filter.before + static_cast<double>(r) / filter.rows;
    for (int first = 0; first < filter.taps; first += 16) {
        for (int k = 0; k < 16; ++k) {
            for (std::size_t r = 0; r < half; ++r) x[r] = (first + k - places[r]) * scale;
            impulse.at(x, std::span(values).subspan(static_cast<std::size_t>(k) * half, half));
        }
        for (std::size_t r = 0; r < half; ++r) {
            float *const out = row(r) + first, *const mirrored = row(rows - r) + filter.taps - 1 - first;
            for (int k = 0; k < 16; ++k) {
                out[k] = static_cast<float>(values[static_cast<std::size_t>(k) * half + r] * gain);
                mirrored[-k] = out[k];
            }
        }
    }
    return filter;
}

} // namespace

FilterBank::FilterBank() {
    const Prototype impulse(up);
    static_assert((2 * up_taps + 15) / 16 * 16 * most_stretch == most_taps && 2 * most_stretch == fastest);
    static_assert((down_taps + 15) / 16 * 16 <= most_taps);
    down_ = make(Prototype(down), 1);
    for (int step = 0; step <= steps_per_octave; ++step) {
        ratios_.push_back(exp2(static_cast<double>(step) / steps_per_octave));
        filters_.push_back(make(impulse, ratios_.back()));
    }
}

const FilterBank& FilterBank::instance() {
    static const FilterBank bank;
    return bank;
}

Stretched FilterBank::for_ratio(double ratio) const noexcept {
    if (ratio < lowest_that_folds_high) return {&down_, 1};
    ratio *= 1 - 1e-9; // a whole semitone is one of the steps, whichever way its last bit fell
    int stretch = 1;
    for (; ratio > 2 && stretch < most_stretch; ratio /= 2) stretch *= 2;
    const auto at = std::lower_bound(ratios_.begin(), ratios_.end() - 1, ratio);
    return {&filters_[static_cast<std::size_t>(at - ratios_.begin())], stretch};
}

} // namespace kiai::dsp
