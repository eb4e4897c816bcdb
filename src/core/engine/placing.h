// Maps a moment to a frame, if the renderer reports when its blocks start.
#pragma once

#include <kiai/units.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>

namespace kiai::engine {

class Placing {
  public:
    using Clock = std::chrono::steady_clock;

    explicit Placing(int rate) : rate_(rate) {}

    /// The block that starts with frame `first` is requested now. The renderer asks a little early or late, so the
    /// mapping is averaged over some fifty blocks. At first it is averaged over all blocks so far, and the first of
    /// them count least, because a device may request those at once. [rt], the rendering thread
    void tell(Frames first, Clock::time_point at, Frames delay) noexcept {
        const double origin = seconds(at) - static_cast<double>(first) / rate_;
        const double before = origin_.load(std::memory_order_relaxed);
        const bool restart = !on_.load(std::memory_order_relaxed) || std::abs(origin - before) > jump;
        told_ = restart ? 0 : std::min(told_ + 1, most_told);
        const double share = std::max(least_share, 2.0 / (told_ + 2));
        origin_.store(restart ? origin : before + (origin - before) * share, std::memory_order_relaxed);
        delay_.store(delay, std::memory_order_relaxed);
        on_.store(true, std::memory_order_release);
    }
    bool on() const noexcept { return on_.load(std::memory_order_acquire); }
    /// Returns the frame of a call that is made now. [any]
    Frames now() const noexcept {
        const double since = seconds(Clock::now()) - origin_.load(std::memory_order_relaxed);
        return static_cast<Frames>(std::llround(since * rate_)) + delay_.load(std::memory_order_relaxed);
    }

  private:
    static constexpr double least_share = 0.02;
    static constexpr int most_told = 1000;
    static constexpr double jump = 0.1; ///< seconds: the stream had a hole, or another one began
    static double seconds(Clock::time_point at) noexcept {
        return std::chrono::duration<double>(at.time_since_epoch()).count();
    }
    double rate_;
    int told_ = 0; ///< how often since it restarted
    std::atomic<bool> on_{false};
    std::atomic<double> origin_{0};
    std::atomic<Frames> delay_{0};
};

} // namespace kiai::engine
