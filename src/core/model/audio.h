// The samples of one clip.
#pragma once

#include "core/model/stream_source.h"

#include <kiai/facts.h>

#include <cstdint>
#include <memory>
#include <span>
#include <vector>

namespace kiai::dsp {
class Resampler;
}

namespace kiai::model {

/// Planar samples: all of channel 0, then all of channel 1. Exactly one of the two vectors is used: `narrow` for
/// sources of up to 16 bits, `wide` (1 is full scale) for all others and for lossy ones, which decode to more than full
/// scale.
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

    /// Of a frame that is held.
    float at(int channel, std::int64_t frame) const noexcept {
        const auto index = static_cast<std::size_t>(channel * held + frame);
        return wide.empty() ? static_cast<float>(narrow[index]) / 32768.0f : wide[index];
    }
    /// Frames per value of the envelope.
    std::int64_t step() const noexcept { return rate / 50; }
    /// Once its samples are there: what follows from them.
    void complete();
    /// The same clip at another rate, as it was made last; null where that was another. [control, any thread]
    std::shared_ptr<const Audio> at_rate(int other) const;
    /// Makes it, and keeps it for all who ask for it later. It has the level, the start and the end of this one, as
    /// floats, and no loop points: a loop comes round after a whole number of its own frames. Of a clip that is in
    /// memory whole. [control, any thread]
    std::shared_ptr<const Audio> convert(const dsp::Resampler& resampler) const;
    /// Bytes of its samples in memory.
    std::size_t bytes() const noexcept { return narrow.size() * sizeof narrow[0] + wide.size() * sizeof wide[0]; }

  private:
    mutable std::shared_ptr<const Audio> converted_; ///< guarded by a lock of all clips
};

/// Makes samples of a file or an app fit to be mixed: NaN and infinity become silence, and no sample is more than
/// 60 dB above full scale.
void hold_in_range(std::span<float> samples) noexcept;

} // namespace kiai::model
