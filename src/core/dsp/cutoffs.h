// The cutoffs of a low-pass and a high-pass.
#pragma once

namespace kiai::dsp {

/// Cutoffs in octaves above 1 Hz, so that a move halfway is heard halfway. Open: the filter changes nothing.
struct Cutoffs {
    static constexpr double open_low_pass = 14.287712379549449;  ///< 20 kHz
    static constexpr double open_high_pass = 3.3219280948873623; ///< 10 Hz
    double low_pass = open_low_pass, high_pass = open_high_pass;

    /// Of several low-passes the lowest counts, of several high-passes the highest. [rt]
    void tighten_low_pass(double octaves) noexcept {
        if (octaves < low_pass) low_pass = octaves;
    }
    void tighten_high_pass(double octaves) noexcept {
        if (octaves > high_pass) high_pass = octaves;
    }
    /// `to_go` of the way, 0 … 1, lies between this and `from`. [rt]
    Cutoffs between(const Cutoffs& from, double to_go) const noexcept {
        return {low_pass + (from.low_pass - low_pass) * to_go, high_pass + (from.high_pass - high_pass) * to_go};
    }
    bool open() const noexcept { return low_pass >= open_low_pass && high_pass <= open_high_pass; }
    bool operator==(const Cutoffs&) const = default;
};

/// Octaves above 1 Hz of a frequency in Hz, above 0; the same bits on every machine.
double octaves_of(double hertz) noexcept;

} // namespace kiai::dsp
