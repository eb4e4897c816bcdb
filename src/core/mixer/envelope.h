// The level of a play over time, on top of its layers' gains: a gain that the app moves, and the fade of a forced end.
#pragma once

#include "core/dsp/math.h"

#include <kiai/report.h>
#include <kiai/units.h>

#include <algorithm>

namespace kiai::mixer {

/// Returns the remaining gain after a part `x` of a fade, 1 … 0. Equal power: the cosine of a quarter turn times the
/// other curve, so that sin² + cos² = 1 holds with the fade-in at 1 - x. The other curve starts and ends level, so this
/// one does too.
inline double faded(FadeCurve curve, double x) noexcept {
    const double left = dsp::fall(x);
    return curve == FadeCurve::equal_gain ? left : dsp::sin_pi(left / 2);
}

/// Sets out[i] to the gain of frame `first` + i of a fade-out of `length` frames, 1 … 0.
void write_faded(FadeCurve curve, Frames first, Frames length, int count, double* out) noexcept;
/// The same of a fade-in, 0 … 1.
void write_risen(FadeCurve curve, Frames first, Frames length, int count, double* out) noexcept;

/// Both move along raised cosines, whose second difference stays below an audible click. A new gain does not interrupt
/// an earlier move: the moves are crossfaded, so the gain stays smooth and between both. The frames are the play's own,
/// so they stop during a pause.
class Envelope {
  public:
    void start(int rate, float level) noexcept {
        *this = {};
        from_ = to_ = level;
        shortest_ramp_ = std::max<Frames>(1, static_cast<Frames>(ramp_seconds * rate + 0.5));
        shortest_fade_ = std::max<Frames>(1, static_cast<Frames>(shortest_seconds * rate + 0.5));
    }
    /// Moves the gain to `level` (linear) in `length` frames, at least 10 ms, from `now` on. [rt]
    void move_to(float level, Frames now, Frames length = 0) noexcept {
        settle(now);
        next_ = level;
        next_length_ = std::max(length, shortest_ramp_);
        has_next_ = true;
        settle(now);
    }
    /// Ends in `length` frames, at least the shortest fade. Returns false, with no effect, if it ends sooner already.
    /// [rt]
    bool fade(Frames now, Frames length, FadeCurve curve = FadeCurve::equal_gain) noexcept {
        const Fade fade{now, std::max(length, shortest_fade_), curve};
        if (fading_ > 0 && fade.end() >= end()) return false;
        if (fading_ > 0 && fades_[fading_ - 1].at == now) --fading_; // nothing of that one was heard
        if (fading_ == most_fades) freeze_flattest(now);
        fades_[fading_++] = fade; // multiplied with those under way, so that the gain stays smooth
        return true;
    }
    /// Returns true at and after the last frame of the fade that ends first. [rt]
    bool silent(Frames now) const noexcept { return fading_ > 0 && now >= end(); }

    /// Returns true if a fade is running and nothing of it is heard. [rt]
    bool fades_in_silence() const noexcept { return fading_ > 0 && moving_ == 0 && to_ == 0; }

    /// Returns how many of the next `frames` are of one kind: all steady or all moving. [rt]
    int stretch(Frames now, int frames) noexcept {
        settle(now);
        Frames end = now + frames;
        for (int r = 0; r < moving_; ++r) end = std::min(end, ramps_[r].at + ramps_[r].length);
        if (fading_ > 0) end = std::min(end, this->end());
        return static_cast<int>(end - now);
    }
    /// Returns true if the stretch at `now` has the one gain `level()`. [rt]
    bool steady() const noexcept { return fading_ == 0 && moving_ == 0; }
    /// Returns true if the value is steady until the next call. [rt]
    bool rests() const noexcept { return steady() && !has_next_; }
    /// Returns the target gain.
    float level() const noexcept { return to_; }
    /// Returns true if the gain has reached its target at `now`. [rt]
    bool arrived(Frames now) noexcept {
        settle(now);
        return moving_ == 0;
    }

    /// Writes the gain for each frame of a stretch that is not steady. [rt]
    void write(Frames now, int frames, float* out) const noexcept;

  private:
    static constexpr double ramp_seconds = 0.01;
    static constexpr double shortest_seconds = 0.005;
    static constexpr int most_ramps = 4, most_fades = 8;

    struct Ramp {
        double to = 1;
        Frames at = 0, length = 1;
    };
    struct Fade {
        Frames at = 0, length = 1;
        FadeCurve curve = FadeCurve::equal_gain;
        Frames end() const noexcept { return at + length; }
        double gain(Frames frame) const noexcept {
            return faded(curve, static_cast<double>(frame - at) / static_cast<double>(length));
        }
    };

    Frames end() const noexcept { return fades_[fading_ - 1].end(); } // each is over before those before it
    /// Makes room for one more fade: the flattest one is frozen at its present gain.
    void freeze_flattest(Frames now) noexcept {
        const auto change = [&](const Fade& fade) {
            const double gain = fade.gain(now);
            return (gain - fade.gain(now + 1)) / std::max(gain, 1e-9);
        };
        const auto flattest = std::min_element(fades_, fades_ + fading_,
                                               [&](const Fade& a, const Fade& b) { return change(a) < change(b); });
        frozen_ *= flattest->gain(now);
        std::copy(flattest + 1, fades_ + fading_, flattest);
        --fading_;
    }
    /// Removes ramps that have arrived and those before them, and starts the one that waits; needed only if too many
    /// are running.
    void settle(Frames now) noexcept {
        for (int r = moving_ - 1; r >= 0; --r) {
            if (now < ramps_[r].at + ramps_[r].length) continue;
            from_ = ramps_[r].to;
            std::copy(ramps_ + r + 1, ramps_ + moving_, ramps_);
            moving_ -= r + 1;
            break;
        }
        if (!has_next_ || moving_ == most_ramps) return;
        has_next_ = false;
        if (next_ == to_) return;
        ramps_[moving_++] = {next_, now, next_length_};
        to_ = next_;
    }

    // The members that every block reads come first.
    float to_ = 1;
    int moving_ = 0, fading_ = 0;
    bool has_next_ = false;
    float next_ = 1;
    double from_ = 1;   ///< before the first ramp
    double frozen_ = 1; ///< product of the fades that were frozen
    Frames shortest_ramp_ = 480, shortest_fade_ = 240, next_length_ = 0;
    Ramp ramps_[most_ramps];
    Fade fades_[most_fades];
};

} // namespace kiai::mixer
