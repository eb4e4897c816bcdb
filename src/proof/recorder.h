// An engine without a device, whose output, decisions and levels are all kept.
#pragma once

#include <kiai/rehearse.h>

namespace kiai::proof {

class Recorder {
  public:
    Recorder(const Project& project, const EngineSettings& settings);

    Engine& engine() noexcept { return engine_; }
    /// Renders so many frames, and takes what came of them.
    void run(Frames frames);
    const std::vector<Decision>& decisions() const noexcept { return kept_.decisions; }
    /// Renders what the latency still holds back, and gives everything up to frame `length`.
    Rehearsal finish(Frames length);

  private:
    Engine engine_;
    Rehearsal kept_;
};

} // namespace kiai::proof
