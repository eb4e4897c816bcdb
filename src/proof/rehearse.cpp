#include "proof/recorder.h"

#include <algorithm>

namespace kiai::inline v0 {
namespace {

/// Sounds of which a play began and did not end before frame `at`.
std::vector<std::string> still_sounding(const std::vector<Decision>& decisions, Frames at) {
    std::vector<const Decision*> open;
    for (const Decision& decision : decisions) {
        if (decision.outcome == Outcome::played) open.push_back(&decision);
        if (decision.outcome == Outcome::ended && decision.frame <= at)
            std::erase_if(open, [&](const Decision* begun) { return begun->play == decision.play; });
    }
    std::vector<std::string> names;
    for (const Decision* begun : open)
        if (std::find(names.begin(), names.end(), begun->sound) == names.end()) names.push_back(begun->sound);
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
    with.plain_kernels = settings.plain_kernels;
    with.keep_levels = true;
    with.streams_in_step = true;
    proof::Recorder recorder(project, with);
    Engine& engine = recorder.engine();

    const Frames block = std::clamp(settings.block, 1, 65536);
    const Frames last = trace.lines.empty() ? 0 : trace.lines.back().due(trace.sample_rate);
    const Frames tail_end = last + std::max<Frames>(0, static_cast<Frames>(settings.tail.count() * trace.sample_rate));
    std::vector<std::string> endless;
    bool faded = false;
    // What is due within the next block is reported before it; the rest waits here, so that the ring never fills.
    for (auto next = trace.lines.begin(); next != trace.lines.end() || engine.now() <= last || engine.sounding() > 0;) {
        Frames frames = block;
        if (!faded && engine.now() <= tail_end) frames = std::min(frames, tail_end + 1 - engine.now());
        for (; next != trace.lines.end() && next->due(trace.sample_rate) < engine.now() + frames; ++next)
            engine.report(next->report, next->due(trace.sample_rate));
        if (!faded && engine.now() > tail_end && engine.looping() > 0) {
            endless = still_sounding(recorder.decisions(), tail_end);
            engine.stop_loops();
            faded = true;
        }
        recorder.run(frames);
    }
    Rehearsal rehearsal = recorder.finish(std::max(last, last_end(recorder.decisions())));
    rehearsal.endless = std::move(endless);
    return rehearsal;
}

} // namespace kiai::inline v0
