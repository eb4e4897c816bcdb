// A low-pass and a high-pass, 12 dB per octave each, with cutoffs that may move.
#pragma once

#include "core/dsp/cutoffs.h"
#include "core/dsp/kernels.h"

#include <array>

namespace kiai::dsp {

/// One of the two filters, in stereo: a state-variable filter with a Butterworth response and trapezoidal integration,
/// which stays stable and free of steps while its cutoff moves (V. Zavalishin, The Art of VA Filter Design, 2012,
/// chapter 4). Near its open end the filter blends into the unfiltered signal along a raised cosine, so that "open" is
/// exactly that.
class TwoPole {
  public:
    enum class Kind { low_pass, high_pass };

    /// The filter's coefficients at one cutoff.
    struct Setting {
        double g = 1;   ///< tan(pi f / rate)
        double wet = 0; ///< 0: unfiltered … 1
        bool operator==(const Setting&) const = default;
    };
    static Setting setting(Kind kind, double octaves, double rate) noexcept;

    void start(Setting at) noexcept;
    /// Starts a cell and moves the filter to `to`, where it arrives after two more cells. It moves along a quadratic
    /// spline, which has no step and no corner. Call it at each cell of a filter that moves. [rt]
    void next_cell(Setting to) noexcept;
    /// `right` may be null. The output does not depend on how a stretch is cut into calls. [rt]
    void process(Kind kind, float* left, float* right, int frames) noexcept;
    /// Advances without output, as `process` would with silence. [rt]
    void pass(int frames) noexcept;
    /// Clears the filter's state. [rt]
    bool silent() const noexcept;

  private:
    struct State {
        double first = 0, second = 0;
    };
    template<Kind kind, std::size_t sides>
    void run(const std::array<float*, sides>& io, int frames) noexcept;
    template<Kind kind, std::size_t sides, class At>
    void filter(const std::array<float*, sides>& io, int frames, At at) noexcept;
    bool moves() const noexcept { return !(cells_[0] == cells_[2] && cells_[1] == cells_[2]); }
    /// Returns true if the filter would change neither a signal nor silence.
    bool idle() const noexcept { return !moves() && cells_[2].wet == 0; }

    Setting cells_[3];
    int done_ = 0;     ///< frames of this cell
    bool cold_ = true; ///< nothing has come through since it was open
    std::array<State, 2> states_;
};

/// Both filters in series.
class Tone {
  public:
    /// Starts with a cleared state. [rt]
    void start(const Cutoffs& cutoffs, double rate) noexcept;
    /// See TwoPole::next_cell. [rt]
    void next_cell(const Cutoffs& cutoffs, double rate) noexcept;
    /// [rt]
    void process(float* left, float* right, int frames) noexcept;
    void pass(int frames) noexcept;
    bool silent() const noexcept { return low_.silent() && high_.silent(); }

  private:
    Cutoffs cutoffs_; ///< of the settings below
    TwoPole::Setting low_setting_, high_setting_;
    TwoPole low_, high_;
};

} // namespace kiai::dsp
