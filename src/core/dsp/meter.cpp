#include "core/dsp/meter.h"

#include "core/dsp/math.h"

#include <algorithm>
#include <cmath>
#include <iterator>

namespace kiai::dsp {
namespace {

/// Returns tan(pi f / rate) for `f` below half the rate.
double warped(double f, double rate) noexcept {
    return sin_pi(f / rate) / sin_pi(0.5 - f / rate);
}

constexpr double settled = 1e-12;
constexpr double offset_db = -0.691;
constexpr std::size_t room = Quarters::span + Meter::most_frames + 15; // the kernel reads 15 values beyond its taps

} // namespace

Meter::Meter(int rate, const Kernels& kernels)
    : kernels_(kernels), left_(room), right_(room), block_frames_(rate / 10) {
    { // a shelf: the head
        const double q = 0.7071752369554196, k = warped(1681.974450955533, rate), gain = db_to_gain(3.999843853973347),
                     middle = db_to_gain(3.999843853973347 * 0.4996667741545416), all = 1 + k / q + k * k;
        weighting_[0] = {(gain + middle * k / q + k * k) / all, 2 * (k * k - gain) / all,
                         (gain - middle * k / q + k * k) / all, 2 * (k * k - 1) / all, (1 - k / q + k * k) / all};
    }
    { // a high-pass: what is too low to be loud
        const double q = 0.5003270373238773, k = warped(38.13547087602444, rate), all = 1 + k / q + k * k;
        weighting_[1] = {1, -2, 1, 2 * (k * k - 1) / all, (1 - k / q + k * k) / all};
    }
}

void Meter::weigh(const float* left, const float* right, int frames) noexcept {
    const auto small = [](const double(&sides)[2]) {
        return std::fabs(sides[0]) < settled && std::fabs(sides[1]) < settled;
    };
    const bool quiet = !left && std::all_of(std::begin(weighted_), std::end(weighted_), [&](const BiquadState& state) {
        return small(state.first) && small(state.second);
    });
    if (quiet)
        std::fill(std::begin(weighted_), std::end(weighted_), BiquadState());
    else
        sum_ += kernels_.weigh(left, right, frames, weighting_, weighted_);
}

/// Returns the peak between the frames if it can exceed `known`. The estimate lags by half its span.
float Meter::largest_between(std::vector<float>& history, const float* side, int frames, float known) noexcept {
    constexpr int span = Quarters::span;
    if (side)
        std::copy_n(side, frames, history.begin() + span);
    else
        std::fill_n(history.begin() + span, frames, 0.0f);
    float most = known;
    for (int i = 0; i < frames; i += cell) {
        const int part = std::min(cell, frames - i);
        if (kernels_.peak(history.data() + i + 1, span + part - 1) * quarters_.norm <= most) continue;
        most = std::max(most, kernels_.most_between(history.data() + i + 1, quarters_.taps.data(), span, part));
    }
    std::copy_n(history.begin() + frames, span, history.begin());
    return most;
}

void Meter::measure(const float* left, const float* right, int frames) noexcept {
    for (int done = 0; done < frames;) {
        const int part = std::min(frames - done, block_frames_ - filled_);
        const float *l = left ? left + done : nullptr, *r = right ? right + done : nullptr;
        Peaks& peaks = peaks_[static_cast<std::size_t>(blocks_ % peak_blocks)];
        if (l) peaks.sample = std::max({peaks.sample, kernels_.peak(l, part), kernels_.peak(r, part)});
        peaks.between = largest_between(left_, l, part, peaks.between);
        peaks.between = largest_between(right_, r, part, peaks.between);
        weigh(l, r, part);
        filled_ += part;
        done += part;
        if (filled_ < block_frames_) continue;
        energy_[static_cast<std::size_t>(blocks_ % short_term)] = sum_ / block_frames_;
        sum_ = 0;
        filled_ = 0;
        ++blocks_;
        peaks_[static_cast<std::size_t>(blocks_ % peak_blocks)] = {};
    }
}

float Meter::peak() const noexcept {
    float most = 0;
    for (const Peaks& peaks : peaks_) most = std::max(most, peaks.sample);
    return most;
}

float Meter::true_peak() const noexcept {
    float most = peak();
    for (const Peaks& peaks : peaks_) most = std::max(most, peaks.between);
    return most;
}

double Meter::mean_square(int blocks) const noexcept {
    double sum = 0;
    for (std::int64_t b = blocks_ - blocks; b < blocks_; ++b)
        if (b >= 0) sum += energy_[static_cast<std::size_t>(b % short_term)];
    return sum / blocks;
}

double loudness_of(double mean_square) noexcept {
    return mean_square > 1e-20 ? offset_db + 10 * std::log10(mean_square) : -200;
}

} // namespace kiai::dsp
