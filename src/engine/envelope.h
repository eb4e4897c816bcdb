// How loud a play is over time, beyond its layers' gains: a gain that the app moves, and the fade of a forced end.
#pragma once

#include "dsp/math.h"

#include <kiai/units.h>

#include <algorithm>

namespace kiai::engine {

/// Both along raised cosines, since their second difference stays below what is heard as a click. A gain given while
/// the last one is still on its way waits until that has arrived: the way stays smooth, and the latest wins.
class Envelope {
  public:
    void start(int rate) noexcept {
        *this = {};
        ramp_length_ = std::max<Frames>(1, static_cast<Frames>(ramp_seconds * rate + 0.5));
        shortest_fade_ = std::max<Frames>(1, static_cast<Frames>(shortest_seconds * rate + 0.5));
    }
    /// Moves the gain to `level` (linear), from `now` on. [rt]
    void move_to(float level, Frames now) noexcept {
        settle(now);
        next_ = level;
        has_next_ = true;
        settle(now);
    }
    /// Ends in `length` frames or the shortest fade; false where it is ending already. [rt]
    bool fade(Frames now, Frames length) noexcept {
        if (fading_) return false;
        fading_ = true;
        fade_at_ = now;
        fade_length_ = std::max(length, shortest_fade_);
        return true;
    }
    bool fading() const noexcept { return fading_; }
    /// True at and after the fade's last frame. [rt]
    bool silent(Frames now) const noexcept { return fading_ && now >= fade_at_ + fade_length_; }

    /// How many of the next `frames` are of one kind: all steady, or all moving. [rt]
    int stretch(Frames now, int frames) noexcept {
        settle(now);
        Frames end = now + frames;
        if (ramping_) end = std::min(end, ramp_at_ + ramp_length_);
        if (fading_) end = std::min(end, fade_at_ + fade_length_);
        return static_cast<int>(end - now);
    }
    /// Of the stretch at `now`: it has the one gain `level()`. [rt]
    bool steady() const noexcept { return !fading_ && !ramping_; }
    float level() const noexcept { return to_; }

    /// Writes the gain for each frame of a stretch that is not steady. [rt]
    void write(Frames now, int frames, float* out) const noexcept {
        for (int i = 0; i < frames; ++i) {
            const Frames frame = now + i;
            double value = to_;
            if (ramping_)
                value += (from_ - value) *
                         dsp::fall(static_cast<double>(frame - ramp_at_) / static_cast<double>(ramp_length_));
            if (fading_) value *= dsp::fall(static_cast<double>(frame - fade_at_) / static_cast<double>(fade_length_));
            out[i] = static_cast<float>(value);
        }
    }

  private:
    static constexpr double ramp_seconds = 0.01;
    static constexpr double shortest_seconds = 0.005;

    /// Ends a ramp that has arrived, and begins the one that waits.
    void settle(Frames now) noexcept {
        if (ramping_ && now >= ramp_at_ + ramp_length_) ramping_ = false;
        if (ramping_ || !has_next_) return;
        has_next_ = false;
        from_ = to_;
        to_ = next_;
        ramp_at_ = now;
        ramping_ = from_ != to_;
    }

    Frames ramp_length_ = 480, shortest_fade_ = 240;
    float from_ = 1, to_ = 1, next_ = 1;
    bool ramping_ = false, has_next_ = false, fading_ = false;
    Frames ramp_at_ = 0, fade_at_ = 0, fade_length_ = 0;
};

} // namespace kiai::engine
