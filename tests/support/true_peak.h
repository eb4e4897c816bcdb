// Measures the true peak of a stereo signal with another meter than Kiai's.
#pragma once

#include "support/signal.h"

#include <ebur128.h>

#include <algorithm>
#include <vector>

namespace support {

/// Returns dBTP, the larger of both channels; `rate` in frames per second.
inline double true_peak_db(const std::vector<float>& interleaved, int rate = 48000) {
    ebur128_state* meter = ebur128_init(2, static_cast<unsigned long>(rate), EBUR128_MODE_TRUE_PEAK);
    ebur128_add_frames_float(meter, interleaved.data(), interleaved.size() / 2);
    double left = 0, right = 0;
    ebur128_true_peak(meter, 0, &left);
    ebur128_true_peak(meter, 1, &right);
    ebur128_destroy(&meter);
    return db(std::max(left, right));
}

} // namespace support
