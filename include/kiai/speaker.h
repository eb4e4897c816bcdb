// The output device: calls `render` when it wants more.
#pragma once

#include <kiai/engine.h>

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// An output that the system has.
struct OutputDevice {
    std::string name;
    int channels = 0;
    int rate = 0; ///< frames per second that it runs at by itself
    bool is_default = false;
};

/// All of them, as they are now. May take a second. [control]
std::vector<OutputDevice> output_devices();

struct SpeakerSettings {
    std::string device = {}; ///< its name, or a part of it that only one has; empty: the system's default
    int block = 0;           ///< frames that it asks for at a time; 0: as it likes
    /// Calls keep their distance in time, whatever the block size, for a delay of two blocks and 5 ms; else each is
    /// served with the next block. See Engine::begin_block.
    bool timestamped = false;
    Seconds latency = Seconds(0); ///< what is asked of it; 0: its own, at least 30 ms
};

/// Plays an engine on an output, from its construction to its destruction. The device is opened on a thread of its own,
/// and again, once a second, where it cannot be opened or has gone away. While there is none, the engine is rendered in
/// step with time and its output thrown away, so that plays end all the same. Nobody else may call `render` meanwhile.
/// It never fails: `status` tells why it is silent.
class Speaker {
  public:
    /// Returns at once. [control]
    explicit Speaker(Engine& engine, const SpeakerSettings& settings = {});
    /// Returns when the device is closed, or gives it up after two seconds. [control]
    ~Speaker();
    Speaker(const Speaker&) = delete;
    Speaker& operator=(const Speaker&) = delete;

    /// Waits until a device plays or could not be opened, for `limit` at most; what is rendered before that is not
    /// heard. True where one plays. [control]
    bool wait_until_open(Seconds limit = Seconds(2));

    /// True while a device plays. [any]
    bool playing() const noexcept;
    /// `opening`, the device's name and rate, or why nothing is heard. [any]
    std::string status() const;
    /// How long a frame takes from `render` to the ear, as the device says, the engine's own latency with it; 0 while
    /// none plays. [any]
    Seconds latency() const;
    /// Blocks that the device had to wait for, so that there was a hole. [any]
    std::uint64_t late_blocks() const noexcept;

  private:
    struct State;
    std::shared_ptr<State> state_;
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/speaker.h>
#endif
