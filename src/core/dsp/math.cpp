#include "core/dsp/math.h"

#include "core/dsp/bits.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace kiai::dsp {
namespace {

constexpr double log2_of_10 = 3.321928094887362347870319429489;
constexpr double ln_2 = 0.693147180559945309417232121458;

double power_of_two(int exponent) noexcept {
    return bits_as<double>(static_cast<std::uint64_t>(exponent + 1023) << 52);
}

/// sin_pi of several values at once, in the shape that compilers turn into vectors.
constexpr int lanes = 8;
void sines(double (&values)[lanes]) noexcept {
    double square[lanes], sum[lanes];
    for (int i = 0; i < lanes; ++i) values[i] *= pi, square[i] = values[i] * values[i], sum[i] = 1;
    for (int k = 8; k >= 1; --k)
        for (int i = 0; i < lanes; ++i) sum[i] = 1 - sum[i] * square[i] / (2 * k * (2 * k + 1));
    for (int i = 0; i < lanes; ++i) values[i] *= sum[i];
}

} // namespace

double exp2(double x) noexcept {
    const double whole = std::floor(x + 0.5); // an exact operation, not an approximation
    const double y = (x - whole) * ln_2;      // |y| <= 0.35: sixteen terms are past the last bit
    double sum = 1;
    for (int k = 16; k >= 1; --k) sum = 1 + sum * y / k;
    return sum * power_of_two(static_cast<int>(whole));
}

double db_to_gain(double decibels) noexcept {
    return exp2(decibels * (log2_of_10 / 20));
}

double semitones_to_ratio(double semitones) noexcept {
    return exp2(semitones / 12);
}

double gain_to_db(double gain) noexcept {
    return gain > 1e-10 ? 20 * std::log10(gain) : -200;
}

double sin_pi(double x) noexcept {
    const double y = x * pi, square = y * y;
    double sum = 1;
    for (int k = 8; k >= 1; --k) sum = 1 - sum * square / (2 * k * (2 * k + 1));
    return sum * y;
}

double sine(double turns) noexcept {
    const double part = turns - std::floor(turns); // folded into the quarter turns that sin_pi knows
    return part < 0.25 ? sin_pi(2 * part) : part < 0.75 ? sin_pi(1 - 2 * part) : sin_pi(2 * part - 2);
}

double ratio_to_db(double ratio) noexcept {
    int exponent = 0;
    double mantissa = std::frexp(ratio, &exponent); // exact: 0.5 … 1
    if (mantissa < 0.70710678118654752) mantissa *= 2, --exponent;
    const double z = (mantissa - 1) / (mantissa + 1), square = z * z; // ln m = 2 artanh z, |z| < 0.18
    double sum = 0;
    for (int k = 12; k >= 0; --k) sum = sum * square + 1.0 / (2 * k + 1);
    return 20 / log2_of_10 * (exponent + 2 * z * sum / ln_2);
}

double fall(double x) noexcept {
    if (x <= 0) return 1;
    if (x >= 1) return 0;
    return 0.5 - 0.5 * sin_pi(x - 0.5); // cos(pi x) = -sin(pi (x - 1/2))
}

void write_falls(double first, double length, int count, double* out) noexcept {
    for (int i = 0; i < count; ++i) out[i] = std::min(1.0, std::max(0.0, (first + i) / length)) - 0.5;
    replace_by_sines(out, count);
    for (int i = 0; i < count; ++i) out[i] = 0.5 - 0.5 * out[i];
    // The series is not exact at either end, a fall is.
    const int begun = static_cast<int>(std::clamp(1 - first, 0.0, static_cast<double>(count))),
              over = static_cast<int>(std::clamp(length - first, 0.0, static_cast<double>(count)));
    std::fill(out, out + begun, 1.0);
    std::fill(out + over, out + count, 0.0);
}

void replace_by_sines(double* values, int count) noexcept {
    for (int begin = 0; begin < count; begin += lanes) {
        double some[lanes] = {};
        const int part = std::min(lanes, count - begin);
        std::copy_n(values + begin, part, some);
        sines(some);
        std::copy_n(some, part, values + begin);
    }
}

} // namespace kiai::dsp
