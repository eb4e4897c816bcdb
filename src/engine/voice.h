// One layer of one play while it is being mixed: where it is in its clip, and how that becomes frames of output.
#pragma once

#include "dsp/filter_bank.h"
#include "dsp/kernels.h"
#include "model/audio.h"

#include <kiai/units.h>

#include <span>
#include <vector>

namespace kiai::engine {

/// Working memory of the mixing thread, one for all voices.
struct Scratch {
    Scratch();
    static constexpr int most = 256; ///< frames of output that a voice makes at a time
    std::vector<float> source;       ///< what the taps of that many places reach, at any ratio
    std::vector<float> left, right;
    std::vector<std::int32_t> first, row; ///< places of the taps
    std::vector<float> blend;
    dsp::Places places() const noexcept { return {first.data(), row.data(), blend.data()}; }
};

class Voice {
  public:
    /// Sets it to a frame of a clip, `from`, which is held within the clip. `ratio`: frames of the clip per frame of
    /// output, dsp::slowest … dsp::fastest. The gains are linear. [rt]
    void start(const model::Audio& audio, std::int64_t from, double ratio, bool loop, float gain_left, float gain_right,
               const dsp::FilterBank& filters) noexcept;

    /// Adds up to `frames` frames to `left` and `right`, and gives how many: fewer where the clip ended. Each frame is
    /// multiplied by `shape` if that is not null, and by `level`. `first`: frames until the next cell of the clock;
    /// peaks[c] becomes the largest magnitude of either side per cell. The same output for any way of cutting a stretch
    /// into calls. [rt]
    int mix(const dsp::Kernels& kernels, Scratch& scratch, const float* shape, float level, int frames, int first,
            float* left, float* right, std::span<float> peaks) noexcept;

    /// Its next frame lies past the clip's last. [rt]
    bool over() const noexcept { return !loop_ && index_ >= audio_->frames; }

  private:
    /// One channel of the next `frames` (<= Scratch::most) frames of output, in `into` or straight in the clip.
    const float* fetch(int channel, std::int64_t from, int frames, float* into,
                       const dsp::Kernels& kernels) const noexcept;
    int place(Scratch& scratch, int frames) noexcept;

    const model::Audio* audio_ = nullptr;
    const dsp::Filter* filter_ = nullptr; ///< null: the clip's frames are the output's
    bool loop_ = false;
    float gain_left_ = 1, gain_right_ = 1;
    bool turned_ = false; ///< a loop has come to its end once
    // The place of the next frame of output: whole frames, and 2^-64ths of one.
    std::int64_t index_ = 0;
    std::uint64_t fraction_ = 0;
    std::int64_t step_ = 1;
    std::uint64_t step_fraction_ = 0;
};

} // namespace kiai::engine
