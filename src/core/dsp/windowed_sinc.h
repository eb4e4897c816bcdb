// The ideal low-pass under a window: what samples between and beside those of a signal are estimated with.
#pragma once

namespace kiai::dsp {

/// The sinc function under Kaiser's window (Kaiser 1974), 1 in the middle; the pass band ends at half the rate.
/// [control]
class WindowedSinc {
  public:
    /// `half`: frames from the middle to where it ends.
    WindowedSinc(double half, double beta) noexcept;
    /// `x`: frames from the middle; beyond the end it is 0.
    double operator()(double x) const noexcept;

  private:
    double half_, beta_, middle_;
};

} // namespace kiai::dsp
