// A stream of an output device. The only code that uses the device library.
#pragma once

#include <kiai/speaker.h>

#include <functional>
#include <memory>
#include <span>
#include <string>

namespace kiai::runtime {

class Device {
  public:
    /// Fills a block of interleaved stereo; called on the device's thread.
    using Fill = std::function<void(std::span<float>)>;

    /// Opens a stream without starting it. Returns null if that fails, with the reason in `why`. May take long.
    static std::unique_ptr<Device> open(const SpeakerSettings& wanted, int rate, Fill fill, std::string& why);
    ~Device();

    /// Returns false if the stream does not start. One that takes more than a second is left as it is, never closed,
    /// since the device library cannot do that safely.
    bool start();
    bool active() const;
    const std::string& name() const noexcept { return name_; }
    Seconds latency() const;
    std::uint64_t late() const noexcept;

  private:
    Device() = default;
    struct Stream;
    std::unique_ptr<Stream> stream_;
    std::string name_;
};

} // namespace kiai::runtime
