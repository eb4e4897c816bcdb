// The level of a bus.
#pragma once

#include <kiai/units.h>

namespace kiai::inline v0 {

/// The level of the output of a bus: after its filters, gain and ducking; of `main`, before the limiter. A plain
/// value.
struct BusLevel {
    float peak = 0;          ///< largest magnitude of the last 300 to 400 ms; linear, 1 is full scale
    float true_peak = 0;     ///< linear; interpolated at four times the rate (ITU-R BS.1770-4)
    float momentary = -200;  ///< loudness of the last 400 ms in LUFS (EBU R 128); -200: silence
    float short_term = -200; ///< loudness of the last 3 s in LUFS, updated every 100 ms; -200: silence
    Decibels reduction = 0;  ///< `main`: the largest gain reduction of the limiter in the last 300 to 400 ms
};

} // namespace kiai::inline v0
