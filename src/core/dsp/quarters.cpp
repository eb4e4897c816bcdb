#include "core/dsp/quarters.h"

#include "core/dsp/math.h"

#include <algorithm>
#include <cmath>
#include <cstddef>

namespace kiai::dsp {
namespace {

/// Bessel's I0, for Kaiser's window (Kaiser 1974).
double bessel(double x) noexcept {
    double sum = 1, term = 1;
    for (int k = 1; k < 30; ++k) sum += term *= (x / (2 * k)) * (x / (2 * k));
    return sum;
}

double sinc(double x) noexcept {
    const double whole = std::floor(x + 0.5), rest = x - whole;
    if (rest == 0) return whole == 0 ? 1 : 0;
    const double sine = sin_pi(rest) * (static_cast<long>(whole) % 2 == 0 ? 1 : -1);
    return sine / (pi * x);
}

} // namespace

Quarters::Quarters() noexcept {
    constexpr int half = span / 2;
    const double beta = 5.0;
    for (int quarter = 1; quarter <= 3; ++quarter) {
        float all = 0;
        for (int k = 0; k < span; ++k) {
            const double x = k - (half - 1) - quarter / 4.0; // frames from the estimated place
            const double edge = x / half;
            const double tap = sinc(x) * bessel(beta * std::sqrt(1 - edge * edge)) / bessel(beta);
            taps[static_cast<std::size_t>((quarter - 1) * span + k)] = static_cast<float>(tap);
            all += std::fabs(static_cast<float>(tap));
        }
        norm = std::max(norm, all * 1.001f); // the kernels round
    }
}

} // namespace kiai::dsp
