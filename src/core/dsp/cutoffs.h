// The cutoff frequencies of a low-pass and a high-pass.
#pragma once

namespace kiai::dsp {

/// Cutoffs in octaves above 1 Hz, so that a linear move is heard as even. An open cutoff makes the filter the identity.
struct Cutoffs {
    static constexpr double open_low_pass = 14.287712379549449;  ///< 20 kHz
    static constexpr double open_high_pass = 3.3219280948873623; ///< 10 Hz
    double low_pass = open_low_pass, high_pass = open_high_pass;

    /// Applies another low-pass: the lowest one counts, and of several high-passes the highest. [rt]
    void tighten_low_pass(double octaves) noexcept {
        if (octaves < low_pass) low_pass = octaves;
    }
    void tighten_high_pass(double octaves) noexcept {
        if (octaves > high_pass) high_pass = octaves;
    }
    /// Returns the cutoffs with a part `to_go`, 0 … 1, of the way from `from` to these still to go. [rt]
    Cutoffs between(const Cutoffs& from, double to_go) const noexcept {
        return {low_pass + (from.low_pass - low_pass) * to_go, high_pass + (from.high_pass - high_pass) * to_go};
    }
    bool open() const noexcept { return low_pass >= open_low_pass && high_pass <= open_high_pass; }
    bool operator==(const Cutoffs&) const = default;
};

/// Returns a frequency in Hz, above 0, in octaves above 1 Hz; the same bits on every machine.
double octaves_of(double hertz) noexcept;

} // namespace kiai::dsp
