#include "core/mixer/movers.h"

#include "core/dsp/kernels.h"
#include "core/dsp/math.h"

#include <algorithm>
#include <cmath>

namespace kiai::mixer {
namespace {

constexpr double edge_seconds = 0.005;       // a square's edges: shorter ones are heard as clicks
constexpr double nine_tenths = 3.8897201698; // of a step, in time constants of two equal poles: 1 - (1 + x) exp(-x)
constexpr double log2_of_e = 1.4426950408889634;

} // namespace

void Mixed::move(model::FollowTarget target, double by) noexcept {
    switch (target) {
    case model::FollowTarget::gain:
        gain += by;
        return;
    case model::FollowTarget::pitch:
        pitch += by;
        return;
    case model::FollowTarget::pan:
        pan += by;
        return;
    case model::FollowTarget::balance:
        balance += by;
        balanced = true;
        return;
    case model::FollowTarget::low_pass:
        cutoffs.tighten_low_pass(by);
        return;
    case model::FollowTarget::high_pass:
        cutoffs.tighten_high_pass(by);
        return;
    case model::FollowTarget::depth:
        depth += by;
        return;
    case model::FollowTarget::rate:
        rate += by;
        return;
    }
}

double Mixed::share(std::uint32_t number, std::size_t layers) const noexcept {
    if (!balanced || layers < 2) return 1;
    const double place = std::clamp(balance, 0.0, 1.0) * static_cast<double>(layers - 1);
    const double far = std::min(1.0, std::abs(place - number));
    return dsp::sin_pi(0.5 * (1 - far));
}

Mixed between(const Mixed& to, const Mixed& from, double to_go) noexcept {
    Mixed mixed = to;
    mixed.gain += (from.gain - to.gain) * to_go;
    mixed.pitch += (from.pitch - to.pitch) * to_go;
    mixed.pan += (from.pan - to.pan) * to_go;
    mixed.cutoffs = to.cutoffs.between(from.cutoffs, to_go);
    return mixed;
}

Mover Mover::of(const model::Lfo& lfo, std::uint32_t number, bool of_sound) noexcept {
    Mover mover;
    mover.lfo = &lfo;
    mover.number = number;
    mover.of_sound = of_sound;
    mover.moves_rate = lfo.moves_rate();
    return mover;
}

Mover Mover::of(const model::Follow& follow, int value, int rate) noexcept {
    Mover mover;
    mover.follow = &follow;
    mover.value = value;
    const auto frames = static_cast<double>(follow.smooth.frames(rate));
    if (frames > 0) mover.keep = dsp::exp2(-std::min(900.0, nine_tenths * dsp::cell / frames) * log2_of_e);
    return mover;
}

double lfo_value(const Mover& mover, double turns, double rate, const model::Draw& draw) noexcept {
    const model::Lfo& lfo = *mover.lfo;
    const double whole = std::floor(turns), part = turns - whole;
    switch (lfo.shape) {
    case model::Lfo::Shape::sine:
        return dsp::sine(part);
    case model::Lfo::Shape::triangle:
        return part < 0.25 ? 4 * part : part < 0.75 ? 2 - 4 * part : 4 * part - 4;
    case model::Lfo::Shape::square: {
        const double edge = std::min(0.5, edge_seconds * rate); // in turns; the edges begin at 0 and at a half
        const double since = part < 0.5 ? part : part - 0.5, sign = part < 0.5 ? 1 : -1;
        return sign * (1 - 2 * dsp::fall(since / edge));
    }
    case model::Lfo::Shape::random: { // a new place at each turn, and a smooth way from one to the next
        model::Draw one = draw;
        one.seed = model::scatter(one.seed ^ mover.number);
        if (mover.of_sound) one.layer = model::all_layers;
        if (lfo.free) one.count = 0;
        const auto at = [&](double turn) {
            return 2 * one(model::Purpose::lfo, static_cast<std::uint32_t>(static_cast<std::int64_t>(turn))) - 1;
        };
        const double from = at(whole), to = at(whole + 1);
        return to + (from - to) * dsp::fall(part);
    }
    }
    return 0;
}

namespace {

/// Returns the turns of an LFO. If its rate moves, each cell adds its part.
double turns_of(const Mover& mover, Smoothed& turned, const Moment& moment, double rate, bool begin) noexcept {
    if (!mover.moves_rate) {
        const Frames since = mover.lfo->free ? moment.now : moment.now - moment.begun;
        return static_cast<double>(since) * rate / moment.rate;
    }
    const auto now = static_cast<double>(moment.now);
    if (begin) turned = {static_cast<double>(moment.now - moment.begun) * rate / moment.rate, now};
    turned.first += (now - turned.second) * rate / moment.rate;
    turned.second = now;
    return turned.first;
}

/// Returns the present input of a follow.
double value_of(const Mover& mover, const Moment& moment) noexcept {
    const auto at = static_cast<std::size_t>(mover.value);
    switch (mover.follow->value) {
    case model::Value::dial:
        return moment.dials[at];
    case model::Value::strength:
        return static_cast<double>(moment.strength);
    case model::Value::place:
        return static_cast<double>(moment.place);
    default:
        return moment.own[at];
    }
}

} // namespace

void apply(const Mover& mover, Smoothed& smoothed, const Moment& moment, bool begin, Mixed& mixed) noexcept {
    if (mover.lfo) {
        constexpr double slowest = 0.001, fastest = 50; // Hz
        const double depth = std::max(0.0, mover.lfo->depth + mixed.depth),
                     rate = std::clamp(mover.lfo->rate + mixed.rate, slowest, fastest);
        mixed.depth = mixed.rate = 0;
        const double turns = turns_of(mover, smoothed, moment, rate, begin);
        return mixed.move(mover.lfo->target, depth * lfo_value(mover, turns, rate, moment.draw));
    }
    const double target = mover.follow->curve.at(value_of(mover, moment));
    if (begin) smoothed = {target, target};
    smoothed.first = target + (smoothed.first - target) * mover.keep;
    smoothed.second = smoothed.first + (smoothed.second - smoothed.first) * mover.keep;
    mixed.move(mover.follow->target, smoothed.second);
}

} // namespace kiai::mixer
