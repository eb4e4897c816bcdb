#include "core/dsp/windowed_sinc.h"

#include "core/dsp/math.h"

#include <algorithm>
#include <cmath>

namespace kiai::dsp {
namespace {

/// Bessel's I0.
double bessel(double x) noexcept {
    double sum = 1, term = 1;
    for (int k = 1; k < 40; ++k) sum += term *= (x / (2 * k)) * (x / (2 * k));
    return sum;
}

double sinc(double x) noexcept {
    const double whole = std::floor(x + 0.5), rest = x - whole;
    if (rest == 0) return whole == 0 ? 1 : 0;
    const double sine = sin_pi(rest) * (static_cast<long>(whole) % 2 == 0 ? 1 : -1);
    return sine / (pi * x);
}

} // namespace

double windowed_sinc(double x, double half, double beta) noexcept {
    const double edge = x / half;
    return sinc(x) * bessel(beta * std::sqrt(std::max(0.0, 1 - edge * edge))) / bessel(beta);
}

} // namespace kiai::dsp
