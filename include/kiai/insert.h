// The app's own effect on a bus.
#pragma once

#include <kiai/units.h>

#include <span>

namespace kiai::inline v0 {

/// An effect that the app implements. Engine::set_insert puts it on a bus, after the filters of the bus and before its
/// gain and ducking.
class Insert {
  public:
    virtual ~Insert() = default;

    /// Called once, by Engine::set_insert, before the first `process`. Allocate memory here.
    /// `sample_rate`: frames per second. `most_frames`: the maximum length of a `process` call. [control]
    virtual void prepare(int sample_rate, int most_frames) = 0;

    /// Changes the next frames of the bus in place. Both sides have the same length, 1 … `most_frames`.
    /// Runs on the audio thread: it must not allocate or free memory, lock, wait, or do I/O. The engine bypasses the
    /// insert for good, and logs it, after an exception, after a sample that is NaN or infinite, and, while a device
    /// plays, after eight calls in a row that took longer than their frames last. [rt]
    virtual void process(std::span<float> left, std::span<float> right) = 0;

    /// Clears the state. Called when the bus is heard again after a silence longer than `tail`. The rules of `process`
    /// apply. [rt]
    virtual void reset() = 0;

    /// Returns how long the output continues after the input became silent, 0 … 60 s. Read once, after `prepare`.
    /// `process` is not called after a silence of that length.
    virtual Seconds tail() const { return Seconds(1); }
};

} // namespace kiai::inline v0
