#include "workshop/disk/dither.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace kiai::workshop {
namespace {

/// The finaliser of SplitMix64 (Steele, Lea, Flood 2014): uniform in [0, 1), the same for the same count.
double even(std::uint64_t count) {
    std::uint64_t x = count * 0x9e3779b97f4a7c15u;
    x = (x ^ (x >> 30)) * 0xbf58476d1ce4e5b9u;
    x = (x ^ (x >> 27)) * 0x94d049bb133111ebu;
    return static_cast<double>((x ^ (x >> 31)) >> 11) * 0x1p-53;
}

} // namespace

std::vector<int> dithered(const std::vector<float>& samples, int bits) {
    const double full = std::ldexp(1.0, bits - 1);
    std::vector<int> out(samples.size());
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const double noise = even(2 * i) + even(2 * i + 1) - 1;
        const double step = std::clamp(std::round(samples[i] * full + noise), -full, full - 1);
        out[i] = static_cast<int>(static_cast<std::int64_t>(step) * (std::int64_t{1} << (32 - bits)));
    }
    return out;
}

} // namespace kiai::workshop
