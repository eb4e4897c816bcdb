// The output device, which calls `render`.
#pragma once

#include <kiai/engine.h>

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// An output device of the system.
struct OutputDevice {
    std::string name;
    int channels = 0;
    int rate = 0; ///< its own rate in frames per second
    bool is_default = false;
};

/// Returns all output devices. May take a second. [control]
std::vector<OutputDevice> output_devices();

struct SpeakerSettings {
    std::string device = {}; ///< the name, or a unique part of it; empty: the default device
    int block = 0;           ///< frames per block; 0: the device decides
    /// Keeps the time between calls at every block size, at the cost of two blocks and 5 ms of latency. Otherwise each
    /// call is served with the next block. See Engine::begin_block.
    bool timestamped = false;
    Seconds latency = Seconds(0); ///< the latency to request; 0: that of the device, at least 30 ms
};

/// Plays an engine on an output device. A thread of the speaker opens the device, and tries again every second if the
/// device cannot be opened or was unplugged. Without a device the speaker renders in real time and discards the output,
/// so that plays still end. The app must not call `render` itself. Construction always succeeds; `status` describes
/// problems.
class Speaker {
  public:
    /// Starts to open the device, and returns at once. [control]
    explicit Speaker(Engine& engine, const SpeakerSettings& settings = {});
    /// Closes the device; waits up to two seconds for it. [control]
    ~Speaker();
    Speaker(const Speaker&) = delete;
    Speaker& operator=(const Speaker&) = delete;

    /// Waits until the device plays or could not be opened, at most for `limit`. Sounds that start earlier are not
    /// heard. Returns true if a device plays. [control]
    bool wait_until_open(Seconds limit = Seconds(2));

    /// Returns true while a device plays. [any]
    bool playing() const noexcept;
    /// Returns `opening`, the name and rate of the device, or the reason for the silence. [any]
    std::string status() const;
    /// Returns the time from `render` to the output, as the device reports it, plus the latency of the engine; 0 while
    /// no device plays. [any]
    Seconds latency() const;
    /// Returns the number of blocks that came too late, which leave gaps in the output. [any]
    std::uint64_t late_blocks() const noexcept;

  private:
    struct State;
    std::shared_ptr<State> state_;
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/speaker.h>
#endif
