// The output device: calls `render` when it wants more.
#pragma once

#include <kiai/engine.h>

#include <memory>
#include <string>

namespace kiai::inline v0 {

/// Plays an engine on the system's default output, from its construction to its destruction. The device is opened on a
/// thread of its own. While there is none, the engine is rendered in step with time and its output thrown away, so that
/// plays end all the same. Nobody else may call `render` meanwhile. It never fails: `status` tells why it is silent.
class Speaker {
  public:
    /// Returns at once. [control]
    explicit Speaker(Engine& engine);
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

  private:
    struct State;
    std::shared_ptr<State> state_;
};

} // namespace kiai::inline v0
