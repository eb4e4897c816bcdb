// One layer of one play while it is mixed: its position in the clip, and its output.
#pragma once

#include "core/dsp/filter_bank.h"
#include "core/dsp/kernels.h"
#include "core/dsp/stretch.h"
#include "core/dsp/tone.h"
#include "core/mixer/lap.h"
#include "core/mixer/streams.h"
#include "core/model/audio.h"

#include <kiai/units.h>

#include <algorithm>
#include <array>
#include <span>
#include <vector>

namespace kiai::mixer {

/// Working memory of the mixing thread, shared by all voices.
struct Scratch {
    Scratch();
    static constexpr int most = dsp::most_places; ///< frames of output that a voice makes at a time
    std::vector<float> source;                    ///< what the taps of that many places reach, at any ratio
    std::vector<float> left, right;
    std::vector<float> before;            ///< one side through the filter that a glide leaves
    std::vector<std::int32_t> first, row; ///< places of the taps
    std::vector<std::uint32_t> fraction;  ///< of each place, in 2^-32ths of a frame
    std::vector<double> way;              ///< of a glide, up to each place
    std::vector<float> blend;
    std::vector<float> share;             ///< of the filter that a glide leaves, per frame
    std::array<float, dsp::cell> falls{}; ///< the shares of a glide that lasts one cell
    dsp::StretchedInterpolator stretched;
    dsp::Places places() const noexcept { return {first.data(), row.data(), blend.data()}; }
};

/// The factors of each frame, on top of the voice's own gains; null: none.
struct Shapes {
    const float* left = nullptr;
    const float* right = nullptr; ///< of a mono clip too; the same as `left` where both sides move alike
    float level = 1;              ///< of all frames
};

class Voice {
  public:
    /// Starts at frame `from` of a clip, clamped to the clip. `ratio`: frames of the clip per frame of output,
    /// dsp::slowest … dsp::fastest. The gains are linear. `lap` belongs to the clip; `stream` is null if the clip is in
    /// memory. [rt]
    void start(const model::Audio& audio, const Lap& lap, std::int64_t turns, Stream* stream, std::int64_t from,
               double ratio, float gain_left, float gain_right, const dsp::FilterBank& filters) noexcept;

    /// Continues at a frame of its clip, from 0, with `turns` turns from there on; beyond the clip's end the voice is
    /// over. `stream` replaces the earlier one, which the caller must release. The jump is not smooth, so the caller
    /// calls this in silence. [rt]
    void seek(std::int64_t frame, std::int64_t turns, Stream* stream) noexcept;
    /// Returns the next frame of the clip and how many turns follow the present one. [rt]
    std::int64_t place() const noexcept {
        return turns_ == 1 ? index_ : lap_->place(std::min(index_, end_ - 1), turns_);
    }
    int turns_left() const noexcept {
        if (turns_ == 1) return 0;
        return endless() ? -1 : static_cast<int>(lap_->turns_after(index_, turns_));
    }
    int rate() const noexcept { return audio_->rate; }
    bool endless() const noexcept { return turns_ == Lap::endless; }

    /// Moves the ratio from its present value to `ratio`, linearly over the next `frames`, then keeps it. If the new
    /// ratio needs another filter, the glide blends both. `at_once`: starts at `ratio`. [rt]
    void glide(double ratio, int frames, bool at_once, const dsp::FilterBank& filters) noexcept;

    /// Adds up to `frames` frames to `left` and `right`. Returns how many; fewer if the clip ended. `first`: frames
    /// until the next cell of the clock; `tone`: the filter, or null; peaks[c] becomes the largest magnitude of either
    /// side per cell. The output does not depend on how a stretch is cut into calls. [rt]
    int mix(const dsp::Kernels& kernels, Scratch& scratch, const Shapes& shapes, dsp::Tone* tone, int frames, int first,
            float* left, float* right, std::span<float> peaks) noexcept;

    /// Does the same as `mix` in the most common case: unpitched, mono, in memory, and within one stretch before the
    /// clip's end. `level`: the gain of all frames; `peak` becomes the largest magnitude of all of them. Returns false,
    /// with no effect, in any other case. [rt]
    bool mix_straight(const dsp::Kernels& kernels, Scratch& scratch, float level, int frames, float* left, float* right,
                      float& peak) noexcept;

    /// Advances by up to `frames` frames without output, exactly as `mix` would. Returns how many. [rt]
    int pass(int frames) noexcept;

    /// Returns how many of the next `frames` the stream can give now; all without a stream. [rt]
    int ready(int frames) const noexcept;
    Stream* stream() const noexcept { return stream_; }
    /// Returns true after the last frame. [rt]
    bool over() const noexcept { return index_ >= end_; }
    /// Makes the present turn the last one, or the next turn if that is already partly heard. [rt]
    void finish_turn() noexcept;
    /// From now on all gain comes from the shapes. [rt]
    void shape_only() noexcept { gain_left_ = gain_right_ = 1; }
    bool has_tail() const noexcept { return lap_->loops && lap_->tail; }
    /// Returns the largest magnitude of the clip in the 20 ms around the next frame. [rt]
    float envelope() const noexcept { return envelope_at(*audio_, *lap_, turns_, index_); }
    static float envelope_at(const model::Audio& audio, const Lap& lap, std::int64_t turns, std::int64_t at) noexcept;
    float loudest_gain() const noexcept { return std::max(gain_left_, gain_right_); }

  private:
    /// Returns one channel of `frames` frames from `from` on, copied to `into` or in the clip itself; silence outside
    /// of the clip.
    const float* fetch(int channel, std::int64_t from, int frames, float* into,
                       const dsp::Kernels& kernels) const noexcept;
    int place(const dsp::Kernels& kernels, Scratch& scratch, int frames) noexcept;
    std::int64_t place_after(int count, std::uint64_t& fraction) const noexcept;
    int frames_until_end(int frames) const noexcept;
    void advance(int frames) noexcept;
    int place_stretched(Scratch& scratch, int frames) noexcept;
    int place_gliding(Scratch& scratch, int frames) noexcept;
    void write_shares(Scratch& scratch, int frames) const noexcept;
    double glide_way(int glided) const noexcept;
    void glide_ways(int frames, double* way) const noexcept;
    void glide_on(int frames) noexcept;
    static void set_rows(Scratch& scratch, const dsp::Filter& filter, int frames) noexcept;
    void filter_side(const dsp::Kernels& kernels, Scratch& scratch, int side, std::int64_t from, int frames,
                     float* out) const noexcept;
    void apply(const dsp::Kernels& kernels, Scratch& scratch, const dsp::Stretched& filter, const float* source,
               int frames, float* out) const noexcept;
    int most_taps() const noexcept;

    const model::Audio* audio_ = nullptr;
    const Lap* lap_ = nullptr;
    Stream* stream_ = nullptr;
    dsp::Stretched filter_; ///< none: the clip's frames are the output's
    dsp::Stretched leaves_; ///< the filter before, while a glide blends it into `filter_`
    std::int64_t turns_ = 1, end_ = 0;
    float gain_left_ = 1, gain_right_ = 1;
    // The position of the next output frame: whole frames, and 2^-64ths of one.
    std::int64_t index_ = 0;
    std::uint64_t fraction_ = 0;
    std::int64_t step_ = 1;
    std::uint64_t step_fraction_ = 0;
    // A gliding ratio. Positions count from the start of the glide, so that the cuts make no difference.
    bool gliding_ = false;
    double ratio_ = 1, bend_ = 0; ///< at that place; and how much it changes per frame
    double target_ = 1;           ///< the ratio once the glide is over
    int glide_frames_ = 0;        ///< its length
    int glided_ = 0;              ///< frames since its start
    std::int64_t glide_index_ = 0;
    double glide_fraction_ = 0;
};

} // namespace kiai::mixer
