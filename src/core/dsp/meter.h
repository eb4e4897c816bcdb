// Measures the peak, true peak and loudness of a stereo signal.
#pragma once

#include "core/dsp/kernels.h"
#include "core/dsp/quarters.h"

#include <array>
#include <vector>

namespace kiai::dsp {

/// Loudness as in ITU-R BS.1770-4: K-weighting of both sides, mean square, -0.691 dB. Its filters are those of the
/// recommendation at any rate (B. De Man, Evaluation of implementations of the EBU R 128 loudness measurement, 2018).
/// The true peak is estimated at four times the rate. One block is 100 ms.
class Meter {
  public:
    /// [control] Allocates all memory. `rate`: frames per second.
    Meter(int rate, const Kernels& kernels);

    /// Measures the next `frames` (up to `most_frames`); null: silence. [rt]
    void measure(const float* left, const float* right, int frames) noexcept;

    /// Returns the linear peak of the last 300 to 400 ms. [rt]
    float peak() const noexcept;
    float true_peak() const noexcept;
    /// Returns the mean square after K-weighting of the last `blocks` whole blocks, at most 30. [rt]
    double mean_square(int blocks) const noexcept;
    /// Returns the number of whole blocks since the start. [rt]
    std::int64_t blocks() const noexcept { return blocks_; }

    static constexpr int most_frames = 1024, momentary = 4, short_term = 30;

  private:
    static constexpr int peak_blocks = 4;

    void weigh(const float* left, const float* right, int frames) noexcept;
    float largest_between(std::vector<float>& history, const float* side, int frames, float known) noexcept;

    const Kernels& kernels_;
    Biquad weighting_[2]; ///< a shelf and a high-pass
    BiquadState weighted_[2];
    Quarters quarters_;
    std::vector<float> left_, right_; ///< as many frames as the taps reach, then what is measured
    int block_frames_, filled_ = 0;   ///< of the block that is being measured
    double sum_ = 0;
    std::array<double, short_term> energy_{};
    struct Peaks {
        float sample = 0, between = 0;
    };
    std::array<Peaks, peak_blocks> peaks_; ///< of the last blocks; the one that is being measured at `blocks_`
    std::int64_t blocks_ = 0;
};

/// Returns the LUFS of a mean square after K-weighting; -200 for silence. For display only, because it uses the C
/// library.
double loudness_of(double mean_square) noexcept;

} // namespace kiai::dsp
