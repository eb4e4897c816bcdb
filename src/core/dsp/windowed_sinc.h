// The ideal low-pass under a window, which estimates a signal between its samples.
#pragma once

namespace kiai::dsp {

/// The sinc function under Kaiser's window (Kaiser 1974), 1 in the middle. The pass band ends at half the rate.
/// [control]
class WindowedSinc {
  public:
    /// `half`: frames from the middle to the end.
    WindowedSinc(double half, double beta) noexcept;
    /// `x`: frames from the middle; 0 beyond the end.
    double operator()(double x) const noexcept;

  private:
    double half_, beta_, middle_;
};

} // namespace kiai::dsp
