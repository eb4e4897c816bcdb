#include "workshop/rehearse/recorder.h"

#include "core/model/project.h"

#include <algorithm>

namespace kiai {
namespace workshop {

void Recorder::expect(Frames frames) {
    const Frames most = Frames{600} * engine_.sample_rate(); // a trace may say anything
    witness_.seen_.samples.reserve(2 * static_cast<std::size_t>(std::clamp<Frames>(frames, 0, most)));
}

Rehearsal Recorder::finish(Frames length) {
    Rehearsal& seen = witness_.seen_;
    if (witness_.keeps_samples_) {
        const Frames latency = engine_.latency();
        while (engine_.now() < length + latency) run(std::min<Frames>(512, length + latency - engine_.now()));
        seen.samples.erase(seen.samples.begin(), seen.samples.begin() + 2 * latency);
        seen.samples.resize(2 * static_cast<std::size_t>(length));
    } else {
        seen.samples.clear();
    }
    seen.length = length;
    return std::move(seen);
}

} // namespace workshop

inline namespace v0 {

RunRecorder::RunRecorder(Engine& engine) : engine_(engine) {
    seen_.sample_rate = engine.sample_rate();
    seen_.seed = engine.seed();
    const Project project = engine.project();
    for (const model::Sound& sound : project.data().sounds) seen_.sounds.push_back(sound.name);
    for (const model::Bus& bus : project.data().buses) {
        engine.bus_level(bus.name); // from now on it is measured
        seen_.buses.push_back({bus.name, {}});
    }
    engine.set_log([this](const Decision& decision) { seen_.decisions.push_back(decision); });
    engine.set_findings([this](const Finding& finding) { seen_.findings.push_back(finding); });
}

void RunRecorder::render(Frames frames) {
    const std::size_t begin = keeps_samples_ ? seen_.samples.size() : 0, all = static_cast<std::size_t>(frames) * 2;
    seen_.samples.resize(std::max(seen_.samples.size(), begin + all));
    engine_.render(std::span(seen_.samples).subspan(begin, all));
    engine_.poll();
    PlayLevel levels[256];
    while (const std::size_t count = engine_.read_levels(levels))
        seen_.levels.insert(seen_.levels.end(), levels, levels + count);
    for (auto& [bus, most] : seen_.buses) {
        const BusLevel level = engine_.bus_level(bus);
        most.peak = std::max(most.peak, level.peak);
        most.true_peak = std::max(most.true_peak, level.true_peak);
        most.momentary = std::max(most.momentary, level.momentary);
        most.short_term = std::max(most.short_term, level.short_term);
        most.reduction = std::max(most.reduction, level.reduction);
    }
    seen_.length = engine_.now();
}

} // namespace v0
} // namespace kiai
