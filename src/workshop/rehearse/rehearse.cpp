#include "workshop/rehearse/recorder.h"

#include <algorithm>

namespace kiai::inline v0 {
namespace {

/// Returns the sounds that had to be stopped after the tail.
std::vector<std::string> faded_out(const std::vector<Decision>& decisions, Frames tail_end) {
    std::vector<std::string> names;
    for (const Decision& decision : decisions)
        if (decision.outcome == Outcome::ended && decision.reason == EndReason::stopped && decision.frame > tail_end &&
            std::find(names.begin(), names.end(), decision.sound) == names.end())
            names.push_back(decision.sound);
    return names;
}

Frames last_end(const std::vector<Decision>& decisions) {
    Frames last = 0;
    for (const Decision& decision : decisions)
        if (decision.outcome == Outcome::ended) last = std::max(last, decision.frame);
    return last;
}

} // namespace

Rehearsal rehearse(const Project& project, const Trace& trace, const RehearseSettings& settings) {
    EngineSettings with;
    with.sample_rate = trace.sample_rate;
    with.seed = settings.seed ? *settings.seed : trace.seed.value_or(1);
    with.portable_kernels = settings.portable_kernels;
    with.record_levels = true;
    with.synchronous_streams = true;
    workshop::Recorder recorder(project, with);
    Engine& engine = recorder.engine();

    const Frames block = std::clamp(settings.block, 1, 65536);
    const Frames last = trace.lines.empty() ? 0 : trace.lines.back().due(trace.sample_rate);
    const Frames tail_end = last + std::max<Frames>(0, static_cast<Frames>(settings.tail.count() * trace.sample_rate));
    recorder.expect(tail_end + 2 * trace.sample_rate); // and what fades after it
    bool wound_down = false;
    // Reports of the next block are made just before it, so that the ring never fills.
    for (auto next = trace.lines.begin();
         next != trace.lines.end() || engine.now() <= last || engine.sounding() + engine.waiting() > 0;) {
        Frames frames = block;
        if (!wound_down && engine.now() <= tail_end) frames = std::min(frames, tail_end + 1 - engine.now());
        for (; next != trace.lines.end() && next->due(trace.sample_rate) < engine.now() + frames; ++next)
            engine.report(next->report, next->due(trace.sample_rate));
        if (!wound_down && engine.now() > tail_end) {
            engine.wind_down();
            wound_down = true;
        }
        recorder.run(frames);
    }
    Rehearsal rehearsal = recorder.finish(std::max(last, last_end(recorder.decisions())));
    rehearsal.endless = faded_out(rehearsal.decisions, tail_end);
    return rehearsal;
}

} // namespace kiai::inline v0
