// The few functions of a real number that reach the output or a decision. Written with + - * / only, so that they give
// the same bits on every machine, which the C library's do not promise.
#pragma once

#ifdef __FAST_MATH__
#error "Kiai promises the same bits everywhere, which -ffast-math and -Ofast take away: build it without them"
#endif

namespace kiai::dsp {

constexpr double pi = 3.141592653589793;

/// 2 to the power of x; |x| <= 1000. Relative error below 1e-15; exact at whole numbers.
double exp2(double x) noexcept;

/// Linear gain of a gain in dB; exactly 1 at 0.
double db_to_gain(double decibels) noexcept;

/// Frequency ratio of a pitch in semitones; exactly 1 at 0 and exact at whole octaves.
double semitones_to_ratio(double semitones) noexcept;

/// dB of a linear magnitude; -200 at and below 1e-10. For logs only: it uses the C library.
double gain_to_db(double gain) noexcept;

/// Half a period of a raised cosine: 1 at x <= 0, 0.5 at 0.5, 0 at x >= 1.
double fall(double x) noexcept;

/// A sine by its turns: 0 at 0, 1 at a quarter, -1 at three quarters.
double sine(double turns) noexcept;

/// dB of a ratio above 0, by a series; error below 1e-12 dB.
double ratio_to_db(double ratio) noexcept;

/// sin(pi x) for |x| <= 0.5 by its Taylor series, error below 1e-11.
double sin_pi(double x) noexcept;

} // namespace kiai::dsp
