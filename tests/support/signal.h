// Test signals, and measurements of the output.
#pragma once

#include <kiai/workshop/rehearse.h>

#include <cstdint>
#include <string>
#include <vector>

namespace support {

using Signal = std::vector<float>;

constexpr double pi = 3.14159265358979323846;

/// A sine; frequency in Hz, phase in parts of a turn.
Signal sine(double frequency, double amplitude, std::size_t frames, double rate = 48000, double phase = 0);
/// White noise, uniform in ± amplitude.
Signal noise(double amplitude, std::size_t frames, std::uint64_t seed);

/// Returns the bytes of a mono WAV file of 16 bits.
std::string wav_bytes(const Signal& signal, int rate = 48000);

/// Returns one side (0 left, 1 right) of interleaved stereo.
Signal side(const std::vector<float>& interleaved, int which);

double rms(const Signal& signal, std::size_t from, std::size_t to);
double peak(const Signal& signal);
double db(double linear);

/// Returns where `part` of `length` samples is in a recording, to within -80 dBFS, or -1.
std::ptrdiff_t find_part(const Signal& whole, const float* part, std::size_t length);

/// Fits a sine of that frequency by least squares over [from, to): its amplitude, and the rms of the residue.
struct Fit {
    double amplitude = 0;
    double residue = 0; ///< rms
    double snr_db() const;
};
Fit fit_sine(const Signal& signal, double frequency, std::size_t from, std::size_t to, double rate = 48000);

/// Returns the largest |x[n+1] - 2 x[n] + x[n-1]|, with silence around the signal.
double largest_second_difference(const Signal& signal);

/// The same without the surrounding silence, for a part of a signal.
double largest_inner_second_difference(const Signal& part);

/// Returns the decisions of one kind.
std::vector<kiai::Decision> with_outcome(const std::vector<kiai::Decision>& decisions, kiai::Outcome outcome);

/// Renders an engine's next frames in blocks of `block`.
std::vector<float> render(kiai::Engine& engine, kiai::Frames frames, kiai::Frames block = 256);

} // namespace support
