// The app's own processing on a bus.
#pragma once

#include <kiai/units.h>

#include <span>

namespace kiai::inline v0 {

/// An effect that the app writes itself. Engine::set_insert puts it on a bus, after the bus's filters and before its
/// gain and ducking.
class Insert {
  public:
    virtual ~Insert() = default;

    /// Called once, by Engine::set_insert, before the first `process`: the place to allocate memory. `sample_rate`:
    /// frames per second; `most_frames`: the most that `process` is given at once. [control]
    virtual void prepare(int sample_rate, int most_frames) = 0;

    /// Changes the next frames of the bus in place. Both sides have the same length, 1 … `most_frames`; where a call
    /// ends has no meaning. Runs on the audio thread, so it must not allocate or free memory, take a lock, wait, read
    /// or write files, or write to the console. An exception, a number that is not finite, and, while a device plays,
    /// more time than the frames last, eight calls in a row: the insert is bypassed from there on, and the log says so.
    /// [rt]
    virtual void process(std::span<float> left, std::span<float> right) = 0;

    /// The bus has been silent for longer than `tail`, and sounds again: forget what came before. Same rules as
    /// `process`. [rt]
    virtual void reset() = 0;

    /// Returns how long it sounds on after its input has fallen silent, 0 … 60 s; read once, after `prepare`. It is not
    /// called once the bus has been silent for this long.
    virtual Seconds tail() const { return Seconds(1); }
};

} // namespace kiai::inline v0
