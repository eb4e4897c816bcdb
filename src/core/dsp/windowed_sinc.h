// The ideal low-pass under a window: what samples between and beside those of a signal are estimated with.
#pragma once

namespace kiai::dsp {

/// The sinc function under Kaiser's window (Kaiser 1974), 1 in the middle. `x`: frames from the middle, in -half …
/// half; the pass band ends at half the rate. [control]
double windowed_sinc(double x, double half, double beta) noexcept;

} // namespace kiai::dsp
