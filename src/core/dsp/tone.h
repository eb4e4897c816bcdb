// A low-pass and a high-pass, 12 dB per octave each, whose cutoffs may move.
#pragma once

#include "core/dsp/cutoffs.h"
#include "core/dsp/kernels.h"

#include <array>

namespace kiai::dsp {

/// One of the two filters, on both sides: a state-variable filter with a Butterworth response, integrated by the
/// trapezoidal rule, which stays stable and free of steps while its cutoff moves (V. Zavalishin, The Art of VA Filter
/// Design, 2012, chapter 4). Near its open end it blends over into the unfiltered signal along a raised cosine, so that
/// "open" is exactly that.
class TwoPole {
  public:
    enum class Kind { low_pass, high_pass };

    /// What the filter is at one cutoff.
    struct Setting {
        double g = 1;   ///< tan(pi f / rate)
        double wet = 0; ///< 0: unfiltered … 1
        bool operator==(const Setting&) const = default;
    };
    static Setting setting(Kind kind, double octaves, double rate) noexcept;

    void start(Setting at) noexcept;
    /// A cell begins, and the filter continues to `to`: it is there after two more cells, along a quadratic spline,
    /// which has no step and no bend. Called at each cell of a filter that moves. [rt]
    void next_cell(Setting to) noexcept;
    /// `right` may be null. The same output for any way of cutting a stretch into calls. [rt]
    void process(Kind kind, float* left, float* right, int frames) noexcept;
    /// Moves on without a sound, as `process` would by silence. [rt]
    void pass(int frames) noexcept;
    /// Forgets the earlier input. [rt]
    bool silent() const noexcept;

  private:
    struct State {
        double first = 0, second = 0;
    };
    bool moves() const noexcept { return !(cells_[0] == cells_[2] && cells_[1] == cells_[2]); }
    /// Returns true if the filter would change neither a signal nor silence.
    bool idle() const noexcept { return !moves() && cells_[2].wet == 0; }

    Setting cells_[3];
    int done_ = 0;     ///< frames of this cell
    bool cold_ = true; ///< nothing has come through since it was open
    std::array<State, 2> states_;
};

/// Both, one after the other.
class Tone {
  public:
    /// Begins without a past. [rt]
    void start(const Cutoffs& cutoffs, double rate) noexcept;
    /// As TwoPole's. [rt]
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
