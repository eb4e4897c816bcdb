// The samples of one clip, as they came.
#pragma once

#include <kiai/facts.h>

#include <cstdint>
#include <vector>

namespace kiai::model {

/// Planar samples: all of channel 0, then all of channel 1. Exactly one of the two vectors is used: `narrow` for
/// sources of up to 16 bits and for lossy ones, `wide` (1 is full scale) for all others.
struct Audio {
    int rate = 0;     ///< frames per second, unchanged from the file
    int channels = 0; ///< 1 or 2
    std::int64_t frames = 0;
    std::vector<std::int16_t> narrow;
    std::vector<float> wide;
    std::vector<LoopPoints> loops; ///< that the file has itself
    std::vector<float> envelope;   ///< the largest magnitude of either channel in every 20 ms

    float sample(int channel, std::int64_t frame) const noexcept {
        const auto at = static_cast<std::size_t>(channel * frames + frame);
        return wide.empty() ? static_cast<float>(narrow[at]) / 32768.0f : wide[at];
    }
    /// Frames per value of the envelope.
    std::int64_t step() const noexcept { return rate / 50; }
};

} // namespace kiai::model
