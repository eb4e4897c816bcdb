#include "core/dsp/windowed_sinc.h"

#include "core/dsp/math.h"

#include <cmath>

namespace kiai::dsp {
namespace {

/// Returns Bessel's I0, to the precision of a double.
double bessel(double x) noexcept {
    double sum = 1, term = 1;
    for (int k = 1; term > sum * 1e-17; ++k) sum += term *= (x / (2 * k)) * (x / (2 * k));
    return sum;
}

double sinc(double x) noexcept {
    const double whole = std::floor(x + 0.5), rest = x - whole;
    if (rest == 0) return whole == 0 ? 1 : 0;
    const double sine = sin_pi(rest) * (static_cast<long>(whole) % 2 == 0 ? 1 : -1);
    return sine / (pi * x);
}

} // namespace

WindowedSinc::WindowedSinc(double half, double beta) noexcept : half_(half), beta_(beta), middle_(bessel(beta)) {}

double WindowedSinc::operator()(double x) const noexcept {
    const double edge = x / half_, left = 1 - edge * edge;
    return left < 0 ? 0 : sinc(x) * bessel(beta_ * std::sqrt(left)) / middle_;
}

} // namespace kiai::dsp
