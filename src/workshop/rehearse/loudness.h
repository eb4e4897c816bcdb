// Measures the loudness of a rendering.
#pragma once

#include <kiai/facts.h>

#include <vector>

namespace kiai::workshop {

/// Returns the level facts of interleaved stereo.
Facts measure_samples(const std::vector<float>& samples, int rate);

} // namespace kiai::workshop
