// The units of public declarations. Plain numbers, so that a literal can be passed; the alias names the unit.
#pragma once

#include <chrono>
#include <cstdint>

namespace kiai::inline v0 {

/// A number of frames, or a time on the engine's clock in frames since its start. A frame is one sample per channel.
using Frames = std::int64_t;
/// A gain or a level in dB. A gain of 0 changes nothing. Levels are relative to full scale (dBFS).
using Decibels = float;
/// A pitch difference in semitones; +12 is one octave up and twice the speed.
using Semitones = float;
/// A position between the two speakers: -1 left, 0 centre, +1 right.
using Pan = float;
/// A duration. The chrono durations `50ms` and `0.5s` both convert.
using Seconds = std::chrono::duration<double>;

} // namespace kiai::inline v0
