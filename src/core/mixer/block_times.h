// Records how long the last blocks took, and how much waited.
#pragma once

#include <kiai/state.h>
#include <kiai/units.h>

#include <array>
#include <atomic>
#include <cstdint>

namespace kiai::mixer {

/// Written by `render` and read by any thread without a lock; a block that is being written may be counted in part.
class BlockTimes {
  public:
    struct Block {
        float share = 0; ///< of the time that it lasts
        std::uint32_t frames = 0;
        int reports = 0, scheduled = 0, decisions = 0; ///< that waited
    };
    /// [rt]
    void add(const Block& block) noexcept;
    /// Sets the median and the worst of about the last `frames` frames, and the maximum that waited. [any]
    void look(Frames frames, Load& load) const;

  private:
    static constexpr std::size_t kept = 1024;
    struct Slot {
        std::atomic<float> share{0};
        std::atomic<std::uint32_t> frames{0};
        std::atomic<int> reports{0}, scheduled{0}, decisions{0};
    };
    std::array<Slot, kept> slots_{};
    std::atomic<std::uint64_t> count_{0};
};

} // namespace kiai::mixer
