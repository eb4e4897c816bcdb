// The vectorised kernels, compiled once per instruction set by Highway and chosen at run time.
// tests/dsp/kernels_test.cpp bounds their difference from the portable kernels.
// The few processors that have SSSE3 but not SSE4 get the portable kernels; theirs would be 18 kB of every game.
#ifndef HWY_COMPILE_ONLY_STATIC
#define HWY_DISABLED_TARGETS HWY_SSSE3
#endif
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/dsp/kernels_vector.cpp"
#include <hwy/foreach_target.h>

#include <hwy/highway.h>

#include "core/dsp/kernels.h"

#include <cstdint>
#include <utility>

HWY_BEFORE_NAMESPACE();
namespace kiai::dsp::HWY_NAMESPACE {

// Without vectors, the portable kernels are faster than emulated vectors.
#if HWY_TARGET == HWY_SCALAR || HWY_TARGET == HWY_EMU128

const Kernels& table() {
    return portable_kernels();
}

#else

namespace {

namespace hn = hwy::HWY_NAMESPACE;
using Lanes = hn::CappedTag<float, 16>; // rows are a multiple of 16 taps

struct Plus {
    template<class V>
    HWY_INLINE V operator()(V a, V b) const {
        return hn::Add(a, b);
    }
};
struct Larger {
    template<class V>
    HWY_INLINE V operator()(V a, V b) const {
        return hn::Max(a, b);
    }
};

/// Joins the groups of four lanes, lane by lane, and writes the four results.
template<class D, class V, class Join>
HWY_INLINE void join_groups(D d, V groups, Join join, float* HWY_RESTRICT out) {
#if HWY_HAVE_SCALABLE
    const std::size_t lanes = hn::Lanes(d);
    HWY_ALIGN float parts[hn::MaxLanes(D())];
    hn::Store(groups, d, parts);
    const hn::CappedTag<float, 1> one;
    for (std::size_t i = 0; i < 4; ++i)
        for (std::size_t k = i + 4; k < lanes; k += 4)
            hn::Store(join(hn::Load(one, parts + i), hn::Load(one, parts + k)), one, parts + i);
    for (std::size_t i = 0; i < 4; ++i) out[i] = parts[i];
#else
    if constexpr (hn::MaxLanes(D()) > 4) {
        const hn::Half<D> half;
        join_groups(half, join(hn::LowerHalf(half, groups), hn::UpperHalf(half, groups)), join, out);
    } else {
        hn::StoreU(groups, d, out);
    }
#endif
}

/// Joins the lanes of each of four vectors and writes the four results. The order within each vector does not depend on
/// its index.
template<class V, class Join>
HWY_INLINE void join_lanes(V v0, V v1, V v2, V v3, Join join, float* HWY_RESTRICT out) {
    const Lanes d;
    const hn::Repartition<std::uint64_t, Lanes> pairs;
    const auto low = hn::BitCast(
        pairs, join(hn::InterleaveLower(d, v0, v1), hn::InterleaveUpper(d, v0, v1))); // per 128 bits: 0 and 2, 1 and 3
    const auto high = hn::BitCast(pairs, join(hn::InterleaveLower(d, v2, v3), hn::InterleaveUpper(d, v2, v3)));
    join_groups(d,
                join(hn::BitCast(d, hn::InterleaveLower(pairs, low, high)),
                     hn::BitCast(d, hn::InterleaveUpper(pairs, low, high))),
                join, out);
}

/// The i-th fraction is that of F + i S. Its halves are multiplied separately, which is exact for i below 2^31.
void place(const Stride& stride, const Filter& filter, int frames, std::int32_t* HWY_RESTRICT first,
           std::int32_t* HWY_RESTRICT row, float* HWY_RESTRICT blend) {
    const hn::CappedTag<std::uint64_t, 8> d;
    const hn::Repartition<std::uint32_t, decltype(d)> halves;
    const hn::Rebind<std::uint32_t, decltype(d)> narrow;
    const hn::RebindToSigned<decltype(narrow)> whole;
    const hn::RebindToFloat<decltype(narrow)> real;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const auto low_half = hn::Set(d, 0xffffffffu);
    const auto times = [&](auto a, std::uint32_t b) HWY_ATTR { // of the lower half of each
        return hn::MulEven(hn::BitCast(halves, a), hn::BitCast(halves, hn::Set(d, std::uint64_t{b})));
    };
    const auto split = [](std::uint64_t x) { return std::pair(static_cast<std::uint32_t>(x), x >> 32); };
    const auto [fraction_low, fraction_high] = split(stride.fraction);
    const auto [step_low, step_high] = split(stride.step_fraction);
    for (int i = 0; i < frames; i += lanes) {
        const auto number = hn::Add(hn::Iota(d, 0), hn::Set(d, static_cast<std::uint64_t>(i)));
        const auto low = hn::Add(times(number, step_low), hn::Set(d, std::uint64_t{fraction_low}));
        const auto high =
            hn::Add(hn::Add(times(number, static_cast<std::uint32_t>(step_high)), hn::Set(d, fraction_high)),
                    hn::ShiftRight<32>(low));
        const auto index = hn::Add(times(number, stride.step), hn::ShiftRight<32>(high));
        const auto exact = times(hn::And(high, low_half), static_cast<std::uint32_t>(filter.rows));
        const auto line = times(hn::ShiftRight<32>(exact), static_cast<std::uint32_t>(filter.taps));
        const auto way = hn::ShiftRight<1>(hn::And(exact, low_half));
        hn::StoreU(hn::BitCast(whole, hn::TruncateTo(narrow, index)), whole, first + i);
        hn::StoreU(hn::BitCast(whole, hn::TruncateTo(narrow, line)), whole, row + i);
        const auto part = hn::ConvertTo(real, hn::BitCast(whole, hn::TruncateTo(narrow, way)));
        hn::StoreU(hn::Mul(part, hn::Set(real, 0x1p-31f)), real, blend + i);
    }
}

/// Keeps a vector in its register. GCC would load it again for each use, and loads limit the kernel's speed.
template<class V>
HWY_INLINE V kept(V vector) {
#if HWY_ARCH_X86 && HWY_COMPILER_GCC_ACTUAL && HWY_TARGET <= HWY_AVX2
    asm("" : "+v"(vector.raw));
#endif
    return vector;
}

/// Computes four output frames at a time, enough sums in parallel to hide the latency of an addition. If the number of
/// taps is known, rows are at known distances, which frees registers. `known_taps` 0: any number. `one_row`: all four
/// use the same row, so that it is loaded once.
template<int known_taps, bool one_row>
HWY_INLINE void interpolate_four(const float* HWY_RESTRICT source, const Filter& filter, const std::int32_t* first,
                                 const std::int32_t* row, const float* blends, float* HWY_RESTRICT out) {
    const Lanes d;
    const std::ptrdiff_t lanes = static_cast<std::ptrdiff_t>(hn::Lanes(d)),
                         taps = known_taps > 0 ? known_taps : filter.taps;
    const float *x0 = source + first[0], *x1 = source + first[1], *x2 = source + first[2], *x3 = source + first[3];
    const float *c0 = filter.data() + row[0], *c1 = filter.data() + row[1], *c2 = filter.data() + row[2],
                *c3 = filter.data() + row[3];
    auto a0 = hn::Zero(d), a1 = a0, a2 = a0, a3 = a0, b0 = a0, b1 = a0, b2 = a0, b3 = a0;
    for (std::ptrdiff_t k = 0; k < taps; k += lanes) {
        const auto v0 = kept(hn::LoadU(d, x0 + k)), v1 = kept(hn::LoadU(d, x1 + k)), v2 = kept(hn::LoadU(d, x2 + k)),
                   v3 = kept(hn::LoadU(d, x3 + k));
        if constexpr (one_row) {
            const auto c = kept(hn::Load(d, c0 + k)), next = kept(hn::Load(d, c0 + taps + k));
            a0 = hn::MulAdd(c, v0, a0), b0 = hn::MulAdd(next, v0, b0);
            a1 = hn::MulAdd(c, v1, a1), b1 = hn::MulAdd(next, v1, b1);
            a2 = hn::MulAdd(c, v2, a2), b2 = hn::MulAdd(next, v2, b2);
            a3 = hn::MulAdd(c, v3, a3), b3 = hn::MulAdd(next, v3, b3);
            continue;
        }
        a0 = hn::MulAdd(hn::Load(d, c0 + k), v0, a0), b0 = hn::MulAdd(hn::Load(d, c0 + taps + k), v0, b0);
        a1 = hn::MulAdd(hn::Load(d, c1 + k), v1, a1), b1 = hn::MulAdd(hn::Load(d, c1 + taps + k), v1, b1);
        a2 = hn::MulAdd(hn::Load(d, c2 + k), v2, a2), b2 = hn::MulAdd(hn::Load(d, c2 + taps + k), v2, b2);
        a3 = hn::MulAdd(hn::Load(d, c3 + k), v3, a3), b3 = hn::MulAdd(hn::Load(d, c3 + taps + k), v3, b3);
    }
    const auto blend = [&](auto a, auto b, int i)
                           HWY_ATTR { return hn::MulAdd(hn::Set(d, blends[i]), hn::Sub(b, a), a); };
    join_lanes(blend(a0, b0, 0), blend(a1, b1, 1), blend(a2, b2, 2), blend(a3, b3, 3), Plus(), out);
}

template<int known_taps, bool one_row>
HWY_INLINE void interpolate_rows(const float* source, const Filter& filter, const Places& places, int frames,
                                 float* out) {
    int i = 0;
    for (; i + 4 <= frames; i += 4)
        interpolate_four<known_taps, one_row>(source, filter, places.first + i, places.row + i, places.blend + i,
                                              out + i);
    if (i == frames) return;
    std::int32_t first[4], row[4]; // the last few with company, so that they are computed as all others are
    float blend[4], four[4];
    for (int j = 0; j < 4; ++j) {
        const int at = HWY_MIN(i + j, frames - 1);
        first[j] = places.first[at], row[j] = places.row[at], blend[j] = places.blend[at];
    }
    interpolate_four<known_taps, one_row>(source, filter, first, row, blend, four);
    for (int j = 0; i + j < frames; ++j) out[i + j] = four[j];
}

/// At a whole ratio, such as an octave up, all frames use one row.
template<int known_taps>
HWY_INLINE void interpolate_all(const float* source, const Filter& filter, const Places& places, int frames,
                                float* out) {
    bool one_row = true;
    for (int i = 1; i < frames && one_row; ++i) one_row = places.row[i] == places.row[0];
    if (one_row) return interpolate_rows<known_taps, true>(source, filter, places, frames, out);
    interpolate_rows<known_taps, false>(source, filter, places, frames, out);
}

void interpolate(const float* source, const Filter& filter, const Places& places, int frames, float* out) {
    switch (filter.taps) {
    case 48:
        return interpolate_all<48>(source, filter, places, frames, out);
    case 64:
        return interpolate_all<64>(source, filter, places, frames, out);
    case 80:
        return interpolate_all<80>(source, filter, places, frames, out);
    default:
        return interpolate_all<0>(source, filter, places, frames, out);
    }
}

/// Calls `some(i)` for as many frames as a vector holds and `one(i)` for the rest, cell by cell. Each returns the
/// magnitudes as a vector. Raises the peaks to the largest magnitude times `louder`. Four whole cells at a time share
/// the search for theirs.
template<class Some, class One>
HWY_INLINE void by_cells(int frames, int first, float louder, float* HWY_RESTRICT peaks, Some some, One one) {
    const Lanes d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    for (int i = 0, end = HWY_MIN(first, frames); i < frames;) {
        if (end - i == cell && i + 4 * cell <= frames) {
            const auto largest = [&](int begin) HWY_ATTR {
                auto most = some(begin);
                for (int k = lanes; k < cell; k += lanes) most = hn::Max(most, some(begin + k));
                return most;
            };
            const auto m0 = largest(i), m1 = largest(i + cell), m2 = largest(i + 2 * cell), m3 = largest(i + 3 * cell);
            float four[4];
            join_lanes(m0, m1, m2, m3, Larger(), four);
            for (int c = 0; c < 4; ++c) peaks[c] = HWY_MAX(peaks[c], four[c] * louder);
            i += 4 * cell, peaks += 4;
        } else {
            auto most = hn::Zero(d);
            for (; i + lanes <= end; i += lanes) most = hn::Max(most, some(i));
            float peak = hn::GetLane(hn::MaxOfLanes(d, most));
            for (; i < end; ++i) {
                const float now = one(i); // once: HWY_MAX is a macro
                peak = HWY_MAX(peak, now);
            }
            *peaks = HWY_MAX(*peaks, peak * louder), ++peaks;
        }
        end = HWY_MIN(i + cell, frames);
    }
}

float magnitude(float x) {
    return x < 0 ? -x : x;
}

void mix_mono(const float* HWY_RESTRICT source, float gain_left, float gain_right, float* HWY_RESTRICT left,
              float* HWY_RESTRICT right, int frames, int first, float* HWY_RESTRICT peaks) {
    const Lanes d;
    const auto gl = hn::Set(d, gain_left), gr = hn::Set(d, gain_right);
    const auto some = [&](int i) HWY_ATTR {
        const auto x = hn::LoadU(d, source + i);
        hn::StoreU(hn::Add(hn::LoadU(d, left + i), hn::Mul(x, gl)), d,
                   left + i); // not fused: the same bits as the plain make
        hn::StoreU(hn::Add(hn::LoadU(d, right + i), hn::Mul(x, gr)), d, right + i);
        return hn::Abs(x);
    };
    const auto one = [&](int i) HWY_ATTR {
        left[i] += source[i] * gain_left;
        right[i] += source[i] * gain_right;
        return magnitude(source[i]);
    };
    by_cells(frames, first, HWY_MAX(magnitude(gain_left), magnitude(gain_right)), peaks, some, one);
}

void mix_side(const float* HWY_RESTRICT source, float gain, float* HWY_RESTRICT out, int frames, int first,
              float* HWY_RESTRICT peaks) {
    const Lanes d;
    const auto g = hn::Set(d, gain);
    const auto some = [&](int i) HWY_ATTR {
        const auto x = hn::LoadU(d, source + i);
        hn::StoreU(hn::Add(hn::LoadU(d, out + i), hn::Mul(x, g)), d, out + i);
        return hn::Abs(x);
    };
    const auto one = [&](int i) HWY_ATTR {
        out[i] += source[i] * gain;
        return magnitude(source[i]);
    };
    by_cells(frames, first, magnitude(gain), peaks, some, one);
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
    for (; i < frames; ++i) result = HWY_MAX(result, magnitude(source[i]));
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

/// Each lane is a frame, so that the result does not depend on how frames are cut into calls.
float most_between(const float* HWY_RESTRICT source, const float* HWY_RESTRICT taps, int span, int frames) {
    const Lanes d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    auto most = hn::Zero(d);
    for (int i = 0; i < frames; i += lanes) {
        auto a = hn::Zero(d), b = hn::Zero(d), c = hn::Zero(d);
        for (int k = 0; k < span; ++k) {
            const auto x = hn::LoadU(d, source + i + k);
            a = hn::MulAdd(hn::Set(d, taps[k]), x, a);
            b = hn::MulAdd(hn::Set(d, taps[span + k]), x, b);
            c = hn::MulAdd(hn::Set(d, taps[2 * span + k]), x, c);
        }
        const auto here = hn::Max(hn::Abs(a), hn::Max(hn::Abs(b), hn::Abs(c)));
        const auto wanted = hn::FirstN(d, static_cast<std::size_t>(HWY_MIN(lanes, frames - i)));
        most = hn::Max(most, hn::IfThenElseZero(wanted, here));
    }
    return hn::GetLane(hn::MaxOfLanes(d, most));
}

/// Each product and each sum is rounded separately, because a fused operation would give other bits.
float dot(const float* HWY_RESTRICT source, const float* HWY_RESTRICT taps, int count) {
    const Lanes d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    HWY_ALIGN float sums[16];
    for (int part = 0; part < 16; part += lanes) {
        auto sum = hn::Zero(d);
        for (int k = part; k < count; k += 16)
            sum = hn::Add(sum, hn::Mul(hn::LoadU(d, source + k), hn::LoadU(d, taps + k)));
        hn::Store(sum, d, sums + part);
    }
    for (int width = 8; width >= lanes; width /= 2)
        for (int lane = 0; lane < width; lane += lanes)
            hn::Store(hn::Add(hn::Load(d, sums + lane), hn::Load(d, sums + lane + width)), d, sums + lane);
    float four[4];
    join_groups(d, hn::Load(d, sums), Plus(), four);
    return (four[0] + four[2]) + (four[1] + four[3]);
}

#if HWY_HAVE_FLOAT64

/// One vector holds both sides.
double weigh(const float* HWY_RESTRICT left, const float* HWY_RESTRICT right, int frames, const Biquad (&filters)[2],
             BiquadState (&states)[2]) {
    const hn::FixedTag<double, 2> d;
    const auto all = [&](double value) HWY_ATTR { return hn::Set(d, value); };
    const Biquad &p = filters[0], &q = filters[1];
    const auto p0 = all(p.b0), p1 = all(p.b1), p2 = all(p.b2), pa = all(p.a1), pb = all(p.a2);
    const auto q0 = all(q.b0), q1 = all(q.b1), q2 = all(q.b2), qa = all(q.a1), qb = all(q.a2);
    auto s1 = hn::LoadU(d, states[0].first), s2 = hn::LoadU(d, states[0].second);
    auto t1 = hn::LoadU(d, states[1].first), t2 = hn::LoadU(d, states[1].second);
    auto sum = hn::Zero(d);
    for (int i = 0; i < frames; ++i) {
        const double sides[2] = {left ? static_cast<double>(left[i]) : 0, right ? static_cast<double>(right[i]) : 0};
        const auto in = hn::LoadU(d, sides);
        const auto middle = hn::MulAdd(p0, in, s1);
        s1 = hn::NegMulAdd(pa, middle, hn::MulAdd(p1, in, s2));
        s2 = hn::NegMulAdd(pb, middle, hn::Mul(p2, in));
        const auto out = hn::MulAdd(q0, middle, t1);
        t1 = hn::NegMulAdd(qa, out, hn::MulAdd(q1, middle, t2));
        t2 = hn::NegMulAdd(qb, out, hn::Mul(q2, middle));
        sum = hn::MulAdd(out, out, sum);
    }
    hn::StoreU(s1, d, states[0].first), hn::StoreU(s2, d, states[0].second);
    hn::StoreU(t1, d, states[1].first), hn::StoreU(t2, d, states[1].second);
    double both[2];
    hn::StoreU(sum, d, both);
    return both[0] + both[1];
}

#else

double weigh(const float* left, const float* right, int frames, const Biquad (&filters)[2], BiquadState (&states)[2]) {
    return portable_kernels().weigh(left, right, frames, filters, states);
}

#endif

} // namespace

const Kernels& table() {
    static const Kernels kernels{hwy::TargetName(HWY_TARGET),
                                 place,
                                 interpolate,
                                 mix_mono,
                                 mix_side,
                                 widen,
                                 peak,
                                 between,
                                 most_between,
                                 dot,
                                 weigh};
    return kernels;
}

#endif

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
