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

constexpr double settled = 1e-12;
constexpr double offset_db = -0.691;
constexpr std::size_t room = Quarters::span + Meter::most_frames + 15; // the kernel reads 15 values beyond its taps

} // namespace

Meter::Meter(int rate, const Kernels& kernels)
    : kernels_(kernels), left_(room), right_(room), block_frames_(rate / 10) {
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

/// Both biquads are in direct form II, transposed. Both sides run at once.
void Meter::weigh(const float* left, const float* right, int frames) noexcept {
    const auto over = [](const State& state) {
        return std::all_of(state.begin(), state.end(), [](double value) { return std::fabs(value) < settled; });
    };
    if (!left && over(shelf_state_[0]) && over(shelf_state_[1]) && over(high_state_[0]) && over(high_state_[1])) {
        shelf_state_ = high_state_ = {};
        return;
    }
    const Biquad shelf = shelf_, high = high_pass_;
    std::array<State, 2> shelf_state = shelf_state_, high_state = high_state_;
    State sum{};
    for (int i = 0; i < frames; ++i) {
        const State in{left ? static_cast<double>(left[i]) : 0, right ? static_cast<double>(right[i]) : 0};
        for (std::size_t side = 0; side < 2; ++side) {
            const double middle = shelf.b0 * in[side] + shelf_state[0][side];
            shelf_state[0][side] = shelf.b1 * in[side] - shelf.a1 * middle + shelf_state[1][side];
            shelf_state[1][side] = shelf.b2 * in[side] - shelf.a2 * middle;
            const double out = high.b0 * middle + high_state[0][side];
            high_state[0][side] = high.b1 * middle - high.a1 * out + high_state[1][side];
            high_state[1][side] = high.b2 * middle - high.a2 * out;
            sum[side] += out * out;
        }
    }
    shelf_state_ = shelf_state;
    high_state_ = high_state;
    sum_ += sum[0] + sum[1];
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
