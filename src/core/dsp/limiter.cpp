#include "core/dsp/limiter.h"

#include "core/dsp/math.h"

#include <algorithm>
#include <cmath>

namespace kiai::dsp {
namespace {

constexpr double threshold_db = -0.5;
constexpr double look_seconds = 0.0013;
constexpr double hold_seconds = 0.026;
constexpr double rise_rate = 320;  // dB per second
constexpr float largest = 1e9f;    // of the input: a larger value is as much a fault as one that is no number
constexpr float smallest = 1e-20f; // of the input: below -400 dB systems differ in how they treat denormals

} // namespace

// The look-ahead is never shorter than half the taps; otherwise they would reach back before the buffers.
Limiter::Limiter(int rate, const Kernels& kernels)
    : kernels_(kernels), look_(std::max(half_span, static_cast<int>(look_seconds * rate + 0.5))),
      hold_(static_cast<int>(hold_seconds * rate + 0.5)),
      rise_(static_cast<std::int64_t>((db_to_gain(rise_rate / rate) - 1) * one)),
      threshold_(static_cast<float>(db_to_gain(threshold_db))), window_(static_cast<std::size_t>(look_), one),
      sum_(static_cast<std::int64_t>(look_) * one) {
    const auto room = static_cast<std::size_t>(latency() + most_frames);
    left_.assign(room, 0);
    right_.assign(room, 0);
    held_.resize(static_cast<std::size_t>(look_ + hold_ + 3));
}

/// Returns the gain that the frame at index `frame` of the buffers needs, including the signal up to the next frame.
std::int32_t Limiter::needed(int frame) const noexcept {
    const int from = frame - (half_span - 1);
    float peak =
        std::max(std::fabs(left_[static_cast<std::size_t>(frame)]), std::fabs(right_[static_cast<std::size_t>(frame)]));
    peak = std::max(peak, kernels_.between(left_.data() + from, quarters_.taps.data(), span));
    peak = std::max(peak, kernels_.between(right_.data() + from, quarters_.taps.data(), span));
    return peak <= threshold_ ? one : static_cast<std::int32_t>(static_cast<double>(threshold_) / peak * one);
}

/// Adds the gain that the newest estimated frame needs, and returns the minimum over the hold, the look-ahead and one
/// frame on either side.
std::int32_t Limiter::least(std::int32_t gain) noexcept {
    const std::size_t size = held_.size();
    if (gain < one) {
        while (count_ > 0 && held_[(first_ + count_ - 1) % size].gain >= gain) --count_;
        held_[(first_ + count_++) % size] = {clock_, gain};
    }
    while (count_ > 0 && held_[first_].frame < clock_ - look_ - hold_ - 1) first_ = (first_ + 1) % size, --count_;
    return count_ == 0 ? one : held_[first_].gain;
}

void Limiter::process(const float* left, const float* right, int frames, float* out) noexcept {
    const int lag = latency();
    least_gain_ = 1;
    const auto take = [&](const float* from, std::vector<float>& into) {
        for (int i = 0; i < frames; ++i) {
            const float sample = from[i], size = std::fabs(sample);
            into[static_cast<std::size_t>(lag + i)] = size <= largest && size >= smallest ? sample : 0;
        }
    };
    take(left, left_);
    take(right, right_);

    for (int begin = 0; begin < frames; begin += cell) {
        const int end = std::min(begin + cell, frames);
        // The part that is estimated with these frames, and all frames that its taps reach.
        const int reach = lag + begin - span, length = end - begin + span;
        const float loudest =
            std::max(kernels_.peak(left_.data() + reach, length), kernels_.peak(right_.data() + reach, length));
        const bool calm = loudest * quarters_.norm <= threshold_ && loudest <= threshold_;
        const bool released = sum_ == static_cast<std::int64_t>(look_) * one && count_ == 0 && gain_ == one;
        if (calm && released) {
            for (int i = begin; i < end; ++i) {
                out[2 * i] = left_[static_cast<std::size_t>(i)];
                out[2 * i + 1] = right_[static_cast<std::size_t>(i)];
            }
            clock_ += end - begin;
            continue;
        }
        for (int i = begin; i < end; ++i, ++clock_) {
            const std::int32_t floor = least(calm ? one : needed(lag + i - half_span));
            const std::int64_t risen = gain_ + ((gain_ * rise_) >> 30) + 1;
            gain_ = static_cast<std::int32_t>(std::min<std::int64_t>(floor, risen));
            sum_ += gain_ - window_[oldest_];
            window_[oldest_] = gain_;
            oldest_ = oldest_ + 1 == window_.size() ? 0 : oldest_ + 1;
            const auto gain = static_cast<float>(static_cast<double>(sum_) / (static_cast<double>(look_) * one));
            least_gain_ = std::min(least_gain_, gain);
            out[2 * i] = std::clamp(left_[static_cast<std::size_t>(i)] * gain, -1.0f, 1.0f);
            out[2 * i + 1] = std::clamp(right_[static_cast<std::size_t>(i)] * gain, -1.0f, 1.0f);
        }
    }
    std::copy_n(left_.begin() + frames, lag, left_.begin());
    std::copy_n(right_.begin() + frames, lag, right_.begin());
}

} // namespace kiai::dsp
