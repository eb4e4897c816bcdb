#include "core/dsp/resampler.h"

#include "core/dsp/windowed_sinc.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace kiai::dsp {
namespace {

// Kaiser's formulas for 115 dB and a transition of a tenth of half the rate: 75 frames of the lower rate each side.
constexpr double window = 11.72;
constexpr double each_side = 75;

} // namespace

Resampler::Resampler(int from, int to, const Kernels& kernels)
    : kernels_(kernels), target_rate_(to), from_(from / std::gcd(from, to)), to_(to / std::gcd(from, to)),
      rows_(static_cast<int>(std::min<std::int64_t>(to_, most_rows))) {
    const double stretch = std::max(1.0, static_cast<double>(from) / to); // of the taps, where the rate becomes less
    half_ = static_cast<int>(std::ceil(each_side * stretch)) + 1;
    taps_ = (2 * half_ + lanes - 1) / lanes * lanes;
    table_.resize(static_cast<std::size_t>((rows_ + 1) * taps_));
    std::vector<double> row(static_cast<std::size_t>(taps_));
    for (int r = 0; r <= rows_; ++r) {
        for (int k = 0; k < taps_; ++k) {
            const double x = (k - (half_ - 1) - static_cast<double>(r) / rows_) / stretch;
            row[static_cast<std::size_t>(k)] = std::fabs(x) < each_side ? windowed_sinc(x, each_side, window) : 0;
        }
        const double sum = std::accumulate(row.begin(), row.end(), 0.0); // so that no row is louder than another
        for (int k = 0; k < taps_; ++k)
            table_[static_cast<std::size_t>(r * taps_ + k)] =
                static_cast<float>(row[static_cast<std::size_t>(k)] / sum);
    }
}

void Resampler::append(std::span<const float> samples, std::vector<float>& out) const {
    const auto count = static_cast<std::int64_t>(samples.size());
    std::vector<float> padded(static_cast<std::size_t>(count + half_ - 1 + taps_), 0.0f);
    std::copy(samples.begin(), samples.end(), padded.begin() + half_ - 1);
    const std::size_t begin = out.size();
    out.resize(begin + static_cast<std::size_t>(length(count)));
    const std::int64_t step = from_ / to_, step_part = from_ % to_; // counted on: a division per frame costs more
    const double rows_per_part = static_cast<double>(rows_) / static_cast<double>(to_);
    const float* source = padded.data();
    std::int64_t part = 0; // of the way to the next frame, in parts of to_
    for (auto made = out.begin() + static_cast<std::ptrdiff_t>(begin); made != out.end(); ++made) {
        const double exact = rows_ == to_ ? static_cast<double>(part) : static_cast<double>(part) * rows_per_part;
        const auto row = static_cast<std::int64_t>(exact);
        const float blend = static_cast<float>(exact - static_cast<double>(row));
        const float* taps = table_.data() + row * taps_;
        const float here = kernels_.dot(source, taps, taps_);
        *made = blend > 0 ? here + (kernels_.dot(source, taps + taps_, taps_) - here) * blend : here;
        source += step;
        part += step_part;
        if (part < to_) continue;
        part -= to_;
        ++source;
    }
}

} // namespace kiai::dsp
