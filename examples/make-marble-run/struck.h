// A struck body: inharmonic partials, each with its own decay, and the noise of the contact.
#pragma once

#include <cmath>
#include <cstdint>
#include <numbers>
#include <vector>

namespace bench {

constexpr int rate = 44100;
using Samples = std::vector<double>;

/// A small random generator that gives the same clips on every machine (Marsaglia's xorshift, 2003).
class Dice {
  public:
    explicit Dice(std::uint64_t seed) : state_(seed * 2685821657736338717u + 88172645463325252u) {}
    /// Returns a uniform number in [0, 1).
    double operator()() {
        state_ ^= state_ << 13, state_ ^= state_ >> 7, state_ ^= state_ << 17;
        return static_cast<double>(state_ >> 11) * 0x1p-53;
    }
    double between(double low, double high) { return low + (high - low) * (*this)(); }

  private:
    std::uint64_t state_;
};

struct Partial {
    double ratio; ///< to the lowest
    double level; ///< linear
    double decay; ///< seconds to fall by 60 dB
};

struct Body {
    double lowest; ///< Hz
    std::vector<Partial> partials;
    double contact_noise; ///< linear, of a burst of a few milliseconds
    double spread;        ///< difference between the partials of two takes, as a fraction
};

inline Samples silence(double seconds) {
    return Samples(static_cast<std::size_t>(seconds * rate), 0.0);
}

/// Adds `from` to `into` at a time, and lengthens `into` if needed.
inline void add(Samples& into, const Samples& from, double seconds, double gain = 1) {
    const auto begin = static_cast<std::size_t>(seconds * rate);
    if (into.size() < begin + from.size()) into.resize(begin + from.size(), 0.0);
    for (std::size_t i = 0; i < from.size(); ++i) into[begin + i] += gain * from[i];
}

/// Makes one strike. The place of the strike decides the level of each partial: a partial with a node there is silent.
inline Samples strike(const Body& body, double seconds, Dice& dice) {
    Samples out = silence(seconds);
    const double place = dice.between(0.08, 0.47);
    for (const Partial& partial : body.partials) {
        const double hertz = body.lowest * partial.ratio * (1 + body.spread * dice.between(-1, 1));
        const double level = partial.level * (0.25 + std::abs(std::sin(std::numbers::pi * place * partial.ratio)));
        const double phase = dice.between(0, 0.6), decay = partial.decay * dice.between(0.8, 1.25);
        for (std::size_t i = 0; i < out.size(); ++i) {
            const double t = static_cast<double>(i) / rate;
            out[i] += level * std::sin(2 * std::numbers::pi * hertz * t + phase) * std::pow(10.0, -3 * t / decay) *
                      (1 - std::exp(-t / 0.0004));
        }
    }
    double low = 0;
    const double colour = dice.between(0.25, 0.6);
    for (std::size_t i = 0; i < out.size(); ++i) {
        low += colour * (dice.between(-1, 1) - low);
        out[i] += body.contact_noise * low * std::exp(-static_cast<double>(i) / rate / 0.004);
    }
    return out;
}

/// Scales to a peak, and fades the last 20 ms out.
inline Samples finish(Samples out, double peak_db) {
    double peak = 0;
    for (const double sample : out) peak = std::max(peak, std::abs(sample));
    const double gain = std::pow(10.0, peak_db / 20) / peak;
    const std::size_t fade = std::min<std::size_t>(out.size(), rate / 50);
    for (std::size_t i = 0; i < out.size(); ++i) {
        const std::size_t left = out.size() - 1 - i;
        out[i] *= gain * (left < fade ? static_cast<double>(left) / static_cast<double>(fade) : 1.0);
    }
    return out;
}

} // namespace bench
