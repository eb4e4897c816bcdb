// Carries the finished mix from `render` to the app's sink.
#pragma once

#include "core/decisions/record_ring.h"

#include <kiai/units.h>

#include <atomic>
#include <cstdint>
#include <memory>
#include <span>

namespace kiai::mixer {

/// A ring of frames. Frames without room are dropped, and silence replaces them.
class MixTap {
  public:
    /// `frames`: the capacity; the first call sets it. [control]
    void turn_on(std::size_t frames);
    void turn_off() noexcept { on_.store(false, std::memory_order_release); }

    /// Writes interleaved frames; returns how many were dropped before them. [rt]
    std::uint64_t write(std::span<const float> samples) noexcept;
    /// Reads up to `into.size()` samples, with silence for dropped ones; returns how many. [control]
    std::size_t read(std::span<float> into) noexcept;

  private:
    struct Gap {
        std::uint64_t at = 0; ///< the sample before which it is, counted from the first
        std::uint64_t samples = 0;
    };

    std::atomic<bool> on_{false};
    std::unique_ptr<float[]> ring_;
    std::size_t size_ = 0; ///< samples, a power of two
    std::atomic<std::uint64_t> written_{0}, read_{0};
    std::uint64_t left_out_ = 0; ///< `render`'s: samples
    decisions::RecordRing<Gap> gaps_{64};
    Gap gap_; ///< the reader's: the next
};

} // namespace kiai::mixer
