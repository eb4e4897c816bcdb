#include "core/dsp/resampler.h"

#include "core/dsp/windowed_sinc.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace kiai::dsp {
namespace {

// Kaiser's formulas for 115 dB and a transition band of a tenth of half the rate: 75 frames of the lower rate on each
// side.
constexpr double window = 11.72;
constexpr double each_side = 75;
constexpr std::int64_t largest_table = 1 << 18;

/// Returns how much longer the taps are if the rate decreases.
double stretch_of(int from, int to) noexcept {
    return std::max(1.0, static_cast<double>(from) / to);
}

int taps_before(int from, int to) noexcept {
    return static_cast<int>(std::ceil(each_side * stretch_of(from, to))) + 1;
}

} // namespace

bool Resampler::can(int from, int to) noexcept {
    return static_cast<std::int64_t>(to / std::gcd(from, to)) * 2 * taps_before(from, to) <= largest_table;
}

Resampler::Resampler(int from, int to, const Kernels& kernels)
    : kernels_(kernels), target_rate_(to), from_(from / std::gcd(from, to)), to_(to / std::gcd(from, to)),
      half_(taps_before(from, to)), taps_((2 * half_ + 15) / 16 * 16) {
    const double stretch = stretch_of(from, to);
    const WindowedSinc sinc(each_side, window);
    std::vector<double> row(static_cast<std::size_t>(taps_));
    for (std::int64_t r = 0; r < to_; ++r) {
        for (int k = 0; k < taps_; ++k)
            row[static_cast<std::size_t>(k)] =
                sinc((k - (half_ - 1) - static_cast<double>(r) / static_cast<double>(to_)) / stretch);
        const double sum = std::accumulate(row.begin(), row.end(), 0.0); // so that no row is louder than another
        for (const double tap : row) table_.push_back(static_cast<float>(tap / sum));
    }
}

void Resampler::append(std::span<const float> samples, std::vector<float>& out) const {
    const auto count = static_cast<std::int64_t>(samples.size());
    std::vector<float> padded(static_cast<std::size_t>(count + half_ - 1 + taps_), 0.0f);
    std::copy(samples.begin(), samples.end(), padded.begin() + half_ - 1);
    const std::size_t begin = out.size();
    out.resize(begin + static_cast<std::size_t>(length(count)));
    const std::int64_t step = from_ / to_, step_part = from_ % to_; // counted on: a division per frame costs more
    const float* source = padded.data();
    std::int64_t part = 0; // of the way to the next frame, in parts of to_
    for (auto made = out.begin() + static_cast<std::ptrdiff_t>(begin); made != out.end(); ++made) {
        *made = kernels_.dot(source, table_.data() + part * taps_, taps_);
        source += step;
        part += step_part;
        if (part < to_) continue;
        part -= to_;
        ++source;
    }
}

} // namespace kiai::dsp
