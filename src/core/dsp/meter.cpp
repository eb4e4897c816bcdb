#include "core/dsp/meter.h"

#include "core/dsp/math.h"

#include <algorithm>
#include <cmath>

namespace kiai::dsp {
namespace {

/// Returns tan(pi f / rate) for `f` below half the rate.
double warped(double f, double rate) noexcept {
    return sin_pi(f / rate) / sin_pi(0.5 - f / rate);
}

constexpr double offset_db = -0.691;

} // namespace

Meter::Meter(int rate, const Kernels& kernels)
    : kernels_(kernels), left_(static_cast<std::size_t>(Quarters::span + most_frames)),
      right_(static_cast<std::size_t>(Quarters::span + most_frames)), block_frames_(rate / 10) {
    { // a shelf: the head
        const double q = 0.7071752369554196, k = warped(1681.974450955533, rate), gain = db_to_gain(3.999843853973347),
                     middle = db_to_gain(3.999843853973347 * 0.4996667741545416), all = 1 + k / q + k * k;
        shelf_ = {(gain + middle * k / q + k * k) / all, 2 * (k * k - gain) / all,
                  (gain - middle * k / q + k * k) / all, 2 * (k * k - 1) / all, (1 - k / q + k * k) / all};
    }
    { // a high-pass: what is too low to be loud
        const double q = 0.5003270373238773, k = warped(38.13547087602444, rate), all = 1 + k / q + k * k;
        high_pass_ = {1, -2, 1, 2 * (k * k - 1) / all, (1 - k / q + k * k) / all};
    }
}

/// Direct form II, transposed.
double Meter::run(const Biquad& filter, State& state, double in) noexcept {
    const double out = filter.b0 * in + state.first;
    state.first = filter.b1 * in - filter.a1 * out + state.second;
    state.second = filter.b2 * in - filter.a2 * out;
    return out;
}

void Meter::weigh(const float* left, const float* right, int frames) noexcept {
    // Each side waits for its own last frame, so both run at once.
    State shelf_left = shelves_[0], shelf_right = shelves_[1], high_left = high_passes_[0],
          high_right = high_passes_[1];
    double sum_left = 0, sum_right = 0;
    for (int i = 0; i < frames; ++i) {
        const double l = run(high_pass_, high_left, run(shelf_, shelf_left, left ? static_cast<double>(left[i]) : 0));
        const double r =
            run(high_pass_, high_right, run(shelf_, shelf_right, right ? static_cast<double>(right[i]) : 0));
        sum_left += l * l;
        sum_right += r * r;
    }
    shelves_ = {shelf_left, shelf_right};
    high_passes_ = {high_left, high_right};
    sum_ += sum_left + sum_right;
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
        for (int k = i; k < i + part; ++k)
            most = std::max(most, kernels_.between(history.data() + k + 1, quarters_.taps.data(), span));
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
