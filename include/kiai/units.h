// The units that public declarations are written in. Plain numbers, so that a literal can be passed; the alias says
// what it measures.
#pragma once

#include <chrono>
#include <cstdint>

namespace kiai::inline v0 {

/// A count of frames, or a moment on the engine's clock in frames since it started. A frame is one sample per channel.
using Frames = std::int64_t;
/// A gain or a level in dB; 0 leaves the signal as it is. Levels are relative to full scale (dBFS).
using Decibels = float;
/// A pitch difference in semitones; +12 is one octave up and twice the speed.
using Semitones = float;
/// A place between the two speakers: -1 left, 0 centre, +1 right.
using Pan = float;
/// A duration given by the app. `50ms` and `0.5s` (as chrono durations) both convert.
using Seconds = std::chrono::duration<double>;

} // namespace kiai::inline v0
