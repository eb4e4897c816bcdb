// How loud a rendering is.
#pragma once

#include <kiai/facts.h>

#include <vector>

namespace kiai::workshop {

/// Level facts of interleaved stereo.
Facts measure_samples(const std::vector<float>& samples, int rate);

} // namespace kiai::workshop
