// The vectorised make of the kernels, compiled once per instruction set by Highway and chosen at run time. Bounded against the plain
// make by tests/dsp/kernels_test.cpp.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "dsp/kernels_vector.cpp"
#include <hwy/foreach_target.h>

#include <hwy/highway.h>

#include "dsp/kernels.h"

HWY_BEFORE_NAMESPACE();
namespace kiai::dsp::HWY_NAMESPACE {
namespace {

namespace hn = hwy::HWY_NAMESPACE;
using Lanes = hn::CappedTag<float, 8>; // rows are a multiple of 8 taps; more lanes would only run over padding

void interpolate(const float* source, const Filter& filter, const Place* places, int frames, float* out) {
    const Lanes d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const int taps = filter.taps;
    for (int i = 0; i < frames; ++i) {
        const float* HWY_RESTRICT x = source + places[i].first;
        const float* HWY_RESTRICT here = filter.row(places[i].row);
        const float* HWY_RESTRICT next = here + taps;
        auto a = hn::Zero(d), b = hn::Zero(d);
        for (int k = 0; k < taps; k += lanes) {
            const auto v = hn::LoadU(d, x + k);
            a = hn::MulAdd(hn::LoadU(d, here + k), v, a);
            b = hn::MulAdd(hn::LoadU(d, next + k), v, b);
        }
        const auto mixed = hn::MulAdd(hn::Set(d, places[i].blend), hn::Sub(b, a), a);
        out[i] = hn::GetLane(hn::SumOfLanes(d, mixed));
    }
}

void mix_mono(const float* HWY_RESTRICT source, float gain_left, float gain_right, float* HWY_RESTRICT left,
              float* HWY_RESTRICT right, int frames, int first, float* HWY_RESTRICT peaks) {
    const hn::ScalableTag<float> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const auto gl = hn::Set(d, gain_left), gr = hn::Set(d, gain_right);
    for (int i = 0, end = HWY_MIN(first, frames); i < frames; end = HWY_MIN(end + cell, frames), ++peaks) {
        auto most = hn::Zero(d);
        for (; i + lanes <= end; i += lanes) {
            const auto x = hn::LoadU(d, source + i);
            hn::StoreU(hn::Add(hn::LoadU(d, left + i), hn::Mul(x, gl)), d, left + i);
            hn::StoreU(hn::Add(hn::LoadU(d, right + i), hn::Mul(x, gr)), d, right + i);
            most = hn::Max(most, hn::Abs(x));
        }
        float peak = HWY_MAX(*peaks, hn::GetLane(hn::MaxOfLanes(d, most)));
        for (; i < end; ++i) {
            left[i] += source[i] * gain_left;
            right[i] += source[i] * gain_right;
            peak = HWY_MAX(peak, source[i] < 0 ? -source[i] : source[i]);
        }
        *peaks = peak;
    }
}

void mix_side(const float* HWY_RESTRICT source, float gain, float* HWY_RESTRICT out, int frames, int first,
              float* HWY_RESTRICT peaks) {
    const hn::ScalableTag<float> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const auto g = hn::Set(d, gain);
    for (int i = 0, end = HWY_MIN(first, frames); i < frames; end = HWY_MIN(end + cell, frames), ++peaks) {
        auto most = hn::Zero(d);
        for (; i + lanes <= end; i += lanes) {
            const auto x = hn::LoadU(d, source + i);
            hn::StoreU(hn::Add(hn::LoadU(d, out + i), hn::Mul(x, g)), d, out + i);
            most = hn::Max(most, hn::Abs(x));
        }
        float peak = HWY_MAX(*peaks, hn::GetLane(hn::MaxOfLanes(d, most)));
        for (; i < end; ++i) {
            out[i] += source[i] * gain;
            peak = HWY_MAX(peak, source[i] < 0 ? -source[i] : source[i]);
        }
        *peaks = peak;
    }
}

void widen(const std::int16_t* HWY_RESTRICT source, int frames, float* HWY_RESTRICT out) {
    const hn::ScalableTag<float> d;
    const hn::Rebind<std::int16_t, decltype(d)> narrow;
    const hn::RebindToSigned<decltype(d)> whole;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const auto scale = hn::Set(d, 1.0f / 32768);
    int i = 0;
    for (; i + lanes <= frames; i += lanes) {
        const auto wide = hn::PromoteTo(whole, hn::LoadU(narrow, source + i));
        hn::StoreU(hn::Mul(hn::ConvertTo(d, wide), scale), d, out + i);
    }
    for (; i < frames; ++i) out[i] = static_cast<float>(source[i]) * (1.0f / 32768);
}

float peak(const float* source, int frames) {
    const hn::ScalableTag<float> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    auto most = hn::Zero(d);
    int i = 0;
    for (; i + lanes <= frames; i += lanes) most = hn::Max(most, hn::Abs(hn::LoadU(d, source + i)));
    float result = hn::GetLane(hn::MaxOfLanes(d, most));
    for (; i < frames; ++i) result = HWY_MAX(result, source[i] < 0 ? -source[i] : source[i]);
    return result;
}

float between(const float* HWY_RESTRICT source, const float* HWY_RESTRICT taps, int span) {
    const Lanes d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    auto a = hn::Zero(d), b = hn::Zero(d), c = hn::Zero(d);
    for (int k = 0; k < span; k += lanes) {
        const auto x = hn::LoadU(d, source + k);
        a = hn::MulAdd(hn::LoadU(d, taps + k), x, a);
        b = hn::MulAdd(hn::LoadU(d, taps + span + k), x, b);
        c = hn::MulAdd(hn::LoadU(d, taps + 2 * span + k), x, c);
    }
    const auto sides = hn::Max(hn::Abs(hn::SumOfLanes(d, a)), hn::Abs(hn::SumOfLanes(d, b)));
    return hn::GetLane(hn::Max(sides, hn::Abs(hn::SumOfLanes(d, c))));
}

} // namespace

const Kernels& table() {
    static const Kernels kernels{hwy::TargetName(HWY_TARGET), interpolate, mix_mono, mix_side, widen, peak, between};
    return kernels;
}

} // namespace kiai::dsp::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace kiai::dsp {

HWY_EXPORT(table);

const Kernels& vector_kernels() noexcept {
    return HWY_DYNAMIC_DISPATCH(table)();
}

} // namespace kiai::dsp
#endif
