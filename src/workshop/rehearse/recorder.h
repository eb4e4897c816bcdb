// An engine that is run without a device, and everything that came of it.
#pragma once

#include <kiai/workshop/expect.h>

namespace kiai::workshop {

class Recorder {
  public:
    /// Without `keep_samples`, what is rendered is released at once.
    Recorder(const Project& project, const EngineSettings& settings, bool keep_samples = true)
        : engine_(project, settings), witness_(engine_), keep_samples_(keep_samples) {}

    Engine& engine() noexcept { return engine_; }
    /// Renders so many frames, and takes the results.
    void run(Frames frames) {
        if (!keep_samples_) witness_.seen_.samples.clear();
        witness_.render(frames);
    }
    const std::vector<Decision>& decisions() const noexcept { return witness_.seen_.decisions; }
    /// Renders what the latency still holds back, and gives everything up to frame `length`.
    Rehearsal finish(Frames length);

  private:
    Engine engine_;
    RunRecorder witness_;
    bool keep_samples_;
};

} // namespace kiai::workshop
