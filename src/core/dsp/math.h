// The real functions that affect the output or a decision. They use + - * / only, so they give the same bits on every
// machine; the C library does not promise that.
#pragma once

#ifdef __FAST_MATH__
#error "Kiai promises the same bits everywhere, which -ffast-math and -Ofast take away: build it without them"
#endif

namespace kiai::dsp {

constexpr double pi = 3.141592653589793;

/// Returns 2 to the power of x; |x| <= 1000. Relative error below 1e-15; exact at whole numbers.
double exp2(double x) noexcept;

/// Returns the linear gain of a gain in dB; exactly 1 at 0.
double db_to_gain(double decibels) noexcept;

/// Returns the frequency ratio of a pitch in semitones; exactly 1 at 0 and exact at whole octaves.
double semitones_to_ratio(double semitones) noexcept;

/// Returns a linear magnitude in dB; -200 at and below 1e-10. For logs only, because it uses the C library.
double gain_to_db(double gain) noexcept;

/// Returns half a period of a raised cosine: 1 at x <= 0, 0.5 at 0.5, 0 at x >= 1.
double fall(double x) noexcept;

/// Returns the sine of an angle in turns: 0 at 0, 1 at a quarter, -1 at three quarters.
double sine(double turns) noexcept;

/// Returns a ratio above 0 in dB, by a series; error below 1e-12 dB.
double ratio_to_db(double ratio) noexcept;

/// Returns sin(pi x) for |x| <= 0.5 by its Taylor series; error below 1e-11.
double sin_pi(double x) noexcept;

/// Sets out[i] to fall((first + i) / length), and values[i] to sin_pi(values[i]): the same bits as one at a time,
/// several times sooner, because no frame waits for another. `first` and `length` are whole numbers below 2^52.
void write_falls(double first, double length, int count, double* out) noexcept;
void replace_by_sines(double* values, int count) noexcept;

} // namespace kiai::dsp
