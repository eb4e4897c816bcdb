// Runs an engine without a device and keeps its results.
#pragma once

#include <kiai/workshop/expect.h>

namespace kiai::workshop {

class Recorder {
  public:
    /// Without `keep_samples`, rendered samples are dropped at once.
    Recorder(const Project& project, const EngineSettings& settings, bool keep_samples = true)
        : engine_(project, settings), witness_(engine_) {
        witness_.keeps_samples_ = keep_samples;
    }

    Engine& engine() noexcept { return engine_; }
    /// Makes room for the samples of a run of about that many frames, so that they are never moved.
    void expect(Frames frames);
    /// Renders that many frames and takes the results.
    void run(Frames frames) { witness_.render(frames); }
    const std::vector<Decision>& decisions() const noexcept { return witness_.seen_.decisions; }
    /// Renders the rest of the latency, and returns everything up to frame `length`.
    Rehearsal finish(Frames length);

  private:
    Engine engine_;
    RunRecorder witness_;
};

} // namespace kiai::workshop
