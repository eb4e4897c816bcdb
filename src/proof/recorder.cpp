#include "proof/recorder.h"

#include <algorithm>

namespace kiai::proof {

Recorder::Recorder(const Project& project, const EngineSettings& settings) : engine_(project, settings) {
    kept_.sample_rate = engine_.sample_rate();
    kept_.seed = engine_.seed();
    engine_.set_log([this](const Decision& decision) { kept_.decisions.push_back(decision); });
}

void Recorder::run(Frames frames) {
    const std::size_t begin = kept_.samples.size();
    kept_.samples.resize(begin + static_cast<std::size_t>(frames) * 2);
    engine_.render(std::span(kept_.samples).subspan(begin));
    engine_.poll();
    PlayLevel levels[256];
    while (const std::size_t count = engine_.read_levels(levels))
        kept_.levels.insert(kept_.levels.end(), levels, levels + count);
}

Rehearsal Recorder::finish(Frames length) {
    const Frames latency = engine_.latency();
    while (engine_.now() < length + latency) run(std::min<Frames>(512, length + latency - engine_.now()));
    const auto from = kept_.samples.begin() + 2 * latency;
    kept_.samples = std::vector<float>(from, from + 2 * length);
    kept_.length = length;
    return std::move(kept_);
}

} // namespace kiai::proof
