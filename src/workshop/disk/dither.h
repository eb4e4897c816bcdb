// Reduces samples to whole numbers, with triangular dither.
#pragma once

#include <vector>

namespace kiai::workshop {

/// Quantises to that many bits in the upper bits of an int, as the file library expects. The dither makes the error
/// independent of the signal, and is the same for the same samples. [any]
std::vector<int> dithered(const std::vector<float>& samples, int bits);

} // namespace kiai::workshop
