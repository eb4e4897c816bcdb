// Distinguishes a state that is reported repeatedly from one whose end is never reported.
#pragma once

#include <kiai/units.h>

namespace kiai::rules {

/// The repeats of one key or pointer that is down. A keyboard waits for less than a second, then repeats quickly; an
/// app may also report each frame. Slower reports are presses of their own.
class Repeats {
  public:
    void begin(Frames now) noexcept {
        *this = {};
        last_ = now;
    }
    /// Counts a repeat. Returns true, once, if the end before it must have been missed. [rt] `elsewhere`: the repeat
    /// cannot be the same press, unless the app reports each frame.
    bool again(Frames now, int rate, bool elsewhere = false) noexcept {
        const double gap = static_cast<double>(now - last_) / rate;
        last_ = now;
        if (found_) return false;
        if (gap > quick && (reports_ > 0 || elsewhere)) slow_ += elsewhere ? most_slow : 1;
        ++reports_;
        found_ = gap >= longest_delay || slow_ >= most_slow;
        return found_;
    }

  private:
    static constexpr double longest_delay = 1, quick = 0.075; ///< seconds
    static constexpr int most_slow = 2;

    Frames last_ = 0;
    int reports_ = 0, slow_ = 0;
    bool found_ = false;
};

} // namespace kiai::rules
