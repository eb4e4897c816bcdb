// The samples of one clip.
#pragma once

#include "core/model/stream_source.h"

#include <kiai/facts.h>

#include <cstddef>
#include <cstdint>
#include <memory>
#include <span>
#include <vector>

namespace kiai::dsp {
class Resampler;
}

namespace kiai::model {

/// Planar samples: all of channel 0, then all of channel 1. One of the two vectors is used: `narrow` for sources of up
/// to 16 bits, `wide` (1 is full scale) for all others and for lossy sources, which can exceed full scale.
struct Audio {
    int rate = 0;     ///< frames per second
    int channels = 0; ///< 1 or 2
    std::int64_t frames = 0;
    std::int64_t held = 0; ///< how many of them are in memory: all, or of a streamed clip its head
    std::vector<std::int16_t> narrow;
    std::vector<float> wide;
    std::shared_ptr<const StreamSource> stream; ///< null where all is held
    std::vector<LoopPoints> loops;              ///< that the file has itself
    std::vector<float> envelope;                ///< the largest magnitude of either channel in every 20 ms held

    /// Returns a sample of a clip in memory.
    float at(int channel, std::int64_t frame) const noexcept {
        const auto index = static_cast<std::size_t>(channel * held + frame);
        return wide.empty() ? static_cast<float>(narrow[index]) / 32768.0f : wide[index];
    }
    /// Frames per value of the envelope.
    std::int64_t step() const noexcept { return rate / 50; }
    /// Makes the samples safe to mix, and computes the members that depend on them. Returns the place in `wide` of the
    /// first sample that was NaN or infinite; -1 if there was none.
    std::ptrdiff_t complete();
    /// Returns the same clip at another rate, as converted last; null if that was a different rate. [control, any
    /// thread]
    std::shared_ptr<const Audio> at_rate(int other) const;
    /// Converts the clip and keeps the result for later calls. The result has the same level, start and end, as floats,
    /// and no loop points, because a loop must last whole frames of its own. The clip must be in memory. [control, any
    /// thread]
    std::shared_ptr<const Audio> convert(const dsp::Resampler& resampler) const;
    /// Returns the bytes of the samples in memory.
    std::size_t bytes() const noexcept { return narrow.size() * sizeof narrow[0] + wide.size() * sizeof wide[0]; }

  private:
    mutable std::shared_ptr<const Audio> converted_; ///< guarded by a lock of all clips
};

/// Makes samples of a file or an app safe to mix: NaN and infinity become silence, and every sample is limited to 60 dB
/// above full scale.
void hold_in_range(std::span<float> samples) noexcept;

} // namespace kiai::model
