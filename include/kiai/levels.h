// How loud a bus is.
#pragma once

#include <kiai/units.h>

namespace kiai::inline v0 {

/// What a bus gives to the bus above it, after its filters, gain and ducking; of `main`, before the limiter. A plain
/// value.
struct BusLevel {
    float peak = 0;          ///< largest magnitude of the last 300 to 400 ms; linear, 1 is full scale
    float true_peak = 0;     ///< also between the frames, as a linear value (ITU-R BS.1770-4, four times the rate)
    float momentary = -200;  ///< loudness of the last 400 ms in LUFS (EBU R 128); -200: silence
    float short_term = -200; ///< loudness of the last 3 s in LUFS, updated every 100 ms; -200: silence
    Decibels reduction = 0;  ///< `main`: by how much the limiter lowered it at most in the last 300 to 400 ms
};

} // namespace kiai::inline v0
