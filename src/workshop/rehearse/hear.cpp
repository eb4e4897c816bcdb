// Plays one sound by itself several times, or two sounds in turn.
#include "core/model/project.h"
#include "workshop/rehearse/loudness.h"
#include "workshop/rehearse/recorder.h"

#include <algorithm>

namespace kiai::inline v0 {
namespace {

struct Turn {
    std::string sound;
    Decibels gain = 0;
};

/// Returns the project without its bindings.
Project unbound(const Project& project) {
    model::Project sounds = project.data();
    sounds.bindings.clear();
    for (model::Scope& scope : sounds.scopes) scope.on = false;
    return Project(std::make_shared<const model::Project>(std::move(sounds)));
}

Rehearsal hear_turns(const Project& project, const std::vector<Turn>& turns, const HearSettings& settings) {
    EngineSettings with;
    with.sample_rate = settings.sample_rate;
    with.seed = settings.seed;
    with.record_levels = true;
    with.synchronous_streams = true;
    workshop::Recorder recorder(unbound(project), with);
    Engine& engine = recorder.engine();
    const auto frames_of = [&](Seconds time) {
        return std::max<Frames>(0, static_cast<Frames>(time.count() * engine.sample_rate()));
    };
    Frames last = 0;
    std::size_t read = 0; // decisions
    const auto last_end = [&] {
        for (; read < recorder.decisions().size(); ++read)
            if (const Decision& one = recorder.decisions()[read]; one.outcome == Outcome::ended)
                last = std::max(last, one.frame);
        return last;
    };
    for (const auto& [name, value] : settings.dials) engine.set_dial(name, value);
    for (const Turn& turn : turns)
        for (int i = 0; i < std::clamp(settings.times, 1, 10000); ++i) {
            const Frames start = engine.now();
            PlayOptions options = settings.options;
            options.gain += turn.gain;
            Play play = engine.play(turn.sound, options);
            for (const auto& [name, value] : settings.values) play.set(name, value);
            const Frames faded = start + std::max<Frames>(1, frames_of(settings.loop));
            recorder.run(1);
            while (engine.sounding() > 0) {
                if (engine.now() >= faded && engine.looping() > 0) play.stop(); // in its own way
                recorder.run(engine.now() < faded ? std::min<Frames>(512, faded - engine.now()) : 512);
            }
            const Frames next = std::max(engine.now(), last_end() + frames_of(settings.gap));
            if (engine.now() < next) recorder.run(next - engine.now());
        }
    return recorder.finish(last_end());
}

} // namespace

Rehearsal hear(const Project& project, const std::string& sound, const HearSettings& settings) {
    return hear_turns(project, {{sound, 0}}, settings);
}

Comparison compare(const Project& project, const std::string& first, const std::string& second,
                   const HearSettings& settings) {
    Comparison compared;
    const std::string names[] = {first, second};
    for (std::size_t i = 0; i < 2; ++i) {
        const Rehearsal alone = hear(project, names[i], settings);
        compared.loudness[i] = workshop::measure_samples(alone.samples, alone.sample_rate).loudness;
    }
    const float apart = compared.loudness[0] - compared.loudness[1];
    const bool heard = std::min(compared.loudness[0], compared.loudness[1]) > Facts::silent;
    if (heard) compared.lowered[apart > 0 ? 0 : 1] = std::abs(apart);
    compared.rehearsal = hear_turns(project, {{first, -compared.lowered[0]}, {second, -compared.lowered[1]}}, settings);
    return compared;
}

} // namespace kiai::inline v0
