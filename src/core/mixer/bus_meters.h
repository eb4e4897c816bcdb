// The meters of those buses whose level the app reads.
#pragma once

#include "core/dsp/meter.h"

#include <kiai/levels.h>

#include <array>
#include <atomic>
#include <memory>

namespace kiai::mixer {

class BusMeters {
  public:
    /// [control]
    BusMeters(int rate, const dsp::Kernels& kernels) : rate_(rate), kernels_(kernels) {}

    /// Measures the bus from now on. No effect if it is measured already. One thread at a time. [control]
    void ask(int bus);
    /// Returns the level; silence if the bus is not measured. [any]
    BusLevel level(int bus) const noexcept;

    /// Measures the next frames of a bus; null: silence. [rt]
    void measure(int bus, const float* left, const float* right, int frames) noexcept;
    /// Sets the limiter's minimum gain in the last block. [rt]
    void limited(float gain) noexcept { limiter_gain_ = gain; }

  private:
    static constexpr int most_buses = 2048;
    static constexpr std::size_t gain_blocks = 4;
    struct Metered {
        Metered(int rate, const dsp::Kernels& kernels) : meter(rate, kernels) { gains.fill(1); }
        dsp::Meter meter;
        std::array<float, gain_blocks> gains; ///< of the limiter, by blocks as the meter's
        std::int64_t block = 0;
        std::atomic<float> peak{0}, true_peak{0}, gain{1};
        std::atomic<double> momentary{0}, short_term{0};
    };
    /// Returns null if the bus is not measured. The number of slots is fixed, so a new project with more buses has no
    /// meters for those beyond it.
    Metered* at(int bus) const noexcept {
        return bus < most_buses ? slots_[static_cast<std::size_t>(bus)].load(std::memory_order_acquire) : nullptr;
    }

    int rate_;
    const dsp::Kernels& kernels_;
    std::array<std::atomic<Metered*>, most_buses> slots_{};
    std::vector<std::unique_ptr<Metered>> all_;
    float limiter_gain_ = 1;
};

} // namespace kiai::mixer
