// Mixes and measures plays.
#pragma once

#include "core/dsp/kernels.h"
#include "core/mixer/endings.h"
#include "core/mixer/seeks.h"

#include <span>
#include <vector>

namespace kiai::mixer {

class PlayMixer {
  public:
    static constexpr int most_frames = PlayTables::most_frames;

    /// [control] Allocates its working memory.
    PlayMixer(PlayTable& table, Endings& endings, const dsp::Kernels& kernels);

    /// Adds the next `frames` (<= most_frames) to `left` and `right`, and writes which plays ended. [rt]
    void mix(Frames now, int frames, float* left, float* right) noexcept;

  private:
    void mix_play(int index, std::span<const int> voices, Frames now, int frames) noexcept;
    bool mix_plain(ActivePlay& play, int slot, Frames now, int frames) noexcept;
    void mix_long(ActivePlay& play, int index, std::span<const int> voices, Frames now, int frames) noexcept;
    void measure_sum(ActivePlay& play, Frames now, int frames) noexcept;
    void mix_layers(int index, std::span<const int> voices, Frames now, int frames, float* left, float* right) noexcept;
    void mix_voice(int slot, Frames now, int frames, float* left, float* right) noexcept;
    void mix_part(int slot, Frames now, int frames, const float* shape, float* left, float* right) noexcept;
    void mix_ready(int slot, Frames now, int frames, const float* shape, float* left, float* right) noexcept;
    int flow(int slot, Frames now, int frames) noexcept;
    void move_voice(int slot, Frames now) noexcept;
    Shapes moved_shapes(int slot, Frames now, int frames, const float* shape, float level) noexcept;
    void measure(ActiveVoice& active, Frames now, int made, std::span<const float> peaks, bool over) noexcept;

    PlayTable& table_;
    Endings& endings_;
    Seeks seeks_;
    const dsp::Kernels& kernels_;
    Scratch scratch_;
    bool whole_cells_ = false; ///< the stretch consists of whole cells, and nothing reads their levels
    std::vector<float> shape_, rise_, flow_, moved_left_, moved_right_, sum_left_, sum_right_;
};

} // namespace kiai::mixer
