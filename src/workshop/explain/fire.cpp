#include "core/model/effects.h"
#include "workshop/explain/chain.h"
#include "workshop/rehearse/firing.h"
#include "workshop/rehearse/recorder.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

namespace kiai {
namespace workshop {

Rehearsal run(const Project& project, const Staged& staged, const FireSettings& settings,
              const std::function<bool(const Decision&)>& is_it) {
    constexpr Frames block = 512;
    EngineSettings with;
    with.sample_rate = settings.sample_rate;
    with.seed = settings.seed;
    with.record_levels = true;
    with.synchronous_streams = true;
    Recorder recorder(project, with, false);
    Engine& engine = recorder.engine();
    const auto frames_of = [&](Seconds time) { return static_cast<Frames>(time.count() * engine.sample_rate()); };
    Frames happened = -1;
    auto next = staged.lines.begin();
    std::size_t read = 0;
    do {
        for (; next != staged.lines.end() && next->due(engine.sample_rate()) < engine.now() + block; ++next)
            engine.report(next->report, next->due(engine.sample_rate()));
        recorder.run(block);
        for (; read < recorder.decisions().size(); ++read)
            if (happened < 0 && is_it(recorder.decisions()[read])) happened = recorder.decisions()[read].frame;
        const bool over = next == staged.lines.end() && engine.sounding() + engine.waiting() == 0;
        if (happened >= 0 && (over || engine.now() >= happened + frames_of(settings.listen))) break;
    } while (happened >= 0 || engine.now() < frames_of(staged.latest));
    // Stops what still sounds, so that its level is known.
    engine.wind_down(Seconds(0.005));
    for (int i = 0; i < 100 && engine.sounding() > 0; ++i) recorder.run(block);
    return recorder.finish(engine.now());
}

Project without_conditions(const Project& project, int number) {
    model::Project free = project.data();
    model::Binding& binding = free.bindings[static_cast<std::size_t>(number - 1)];
    binding.when.clear();
    binding.chance = 1;
    binding.once = false;
    binding.nth = 1;
    binding.gap = {};
    return Project(std::make_shared<const model::Project>(std::move(free)));
}

Project alone(const Project& project, int number) {
    model::Project single = project.data();
    const model::Binding own = single.bindings[static_cast<std::size_t>(number - 1)];
    for (std::size_t b = 0; b < single.bindings.size(); ++b) {
        model::Binding& other = single.bindings[b];
        const bool same = other.trigger == own.trigger && ((other.name == own.name && other.other == own.other) ||
                                                           (other.name == own.other && other.other == own.name));
        if (same && b + 1 != static_cast<std::size_t>(number)) other.actions.clear();
    }
    return Project(std::make_shared<const model::Project>(std::move(single)));
}

} // namespace workshop

inline namespace v0 {
namespace {

/// Returns the loudest level of what a binding caused, while it was listened to.
Decibels loudest(const Rehearsal& happened, const std::set<std::uint64_t>& causes, Seconds listen) {
    std::map<std::uint32_t, Frames> plays;
    for (const Decision& decision : happened.decisions)
        if (decision.outcome == Outcome::played && causes.contains(decision.cause))
            plays[decision.play] = decision.frame;
    if (plays.empty()) return -200;
    Frames first = happened.length;
    for (const auto& [play, frame] : plays) first = std::min(first, frame);
    const Frames until = first + static_cast<Frames>(listen.count() * happened.sample_rate);
    float peak = 0;
    for (const PlayLevel& level : happened.levels)
        if (level.frame < until && plays.contains(level.play)) peak = std::max(peak, level.peak);
    return peak > 0 ? 20 * std::log10(peak) : -200;
}

} // namespace

FireResult fire(const Project& given, int number, const FireSettings& settings) {
    FireResult fired;
    fired.binding = number;
    if (number < 1 || number > static_cast<int>(given.data().bindings.size())) {
        fired.why = {"binding " + std::to_string(number),
                     {{Link::registered, false, "no such binding"}},
                     "run kiai list bindings",
                     {},
                     0};
        return fired;
    }
    const Project project =
        workshop::alone(settings.anyway ? workshop::without_conditions(given, number) : given, number);
    const model::Project& data = project.data();
    const model::Binding& binding = data.bindings[static_cast<std::size_t>(number - 1)];
    fired.line = binding.source.line;
    fired.trigger = model::trigger_text(binding);
    const std::set<int> sounds = model::sounds_started_in_the_end(data, binding);
    for (const int sound : sounds) fired.sounds.push_back(data.sounds[static_cast<std::size_t>(sound)].name);
    std::sort(fired.sounds.begin(), fired.sounds.end());
    fired.silent_by_design = sounds.empty() && !binding.actions.empty();

    const workshop::Staged staged = workshop::stage(data, binding, settings);
    const Rehearsal happened =
        workshop::run(project, staged, settings, [&](const Decision& d) { return d.binding == number; });
    const auto causes = workshop::causes_of(happened.decisions, number);
    fired.fired = std::any_of(happened.decisions.begin(), happened.decisions.end(), [&](const Decision& d) {
        return d.binding == number && d.outcome != Outcome::not_met && d.outcome != Outcome::scope_off &&
               d.outcome != Outcome::scope_paused;
    });
    fired.level = loudest(happened, causes, settings.listen);
    fired.heard = fired.level >= audible;
    if (fired.silent_by_design && fired.fired) {
        fired.why.subject = fired.trigger;
        return fired;
    }
    fired.why = workshop::why_of_binding(project, number, staged, happened);
    if (!fired.heard && fired.why.heard() && !fired.why.chain.empty()) {
        fired.why.chain.back() = {Link::level, false, "its sound starts after the listening time"};
        fired.why.fix = "use --listen, or shorten its delays";
    }
    return fired;
}

std::vector<FireResult> fire_all(const Project& project, const FireSettings& settings) {
    std::vector<FireResult> all;
    for (const int number : all_bindings(project)) all.push_back(fire(project, number, settings));
    return all;
}

std::vector<int> all_bindings(const Project& project) {
    std::vector<int> numbers(project.data().bindings.size());
    std::iota(numbers.begin(), numbers.end(), 1);
    return numbers;
}

Trace trace_of(const Project& project, int number, const FireSettings& settings) {
    Trace trace;
    trace.sample_rate = settings.sample_rate;
    trace.seed = settings.seed;
    const model::Project& data = project.data();
    if (number >= 1 && number <= static_cast<int>(data.bindings.size()))
        trace.lines = workshop::stage(data, data.bindings[static_cast<std::size_t>(number - 1)], settings).lines;
    return trace;
}

std::vector<int> bindings_to(const Project& project, const Trigger& trigger) {
    const model::Project& data = project.data();
    Trigger wanted = trigger;
    if (trigger.point) {
        const Rehearsal happened =
            workshop::run(project, workshop::stage(*trigger.point, trigger.kind), {},
                          [&](const auto& d) { return d.trigger == trigger.kind && d.cause > 0; });
        wanted.point.reset();
        for (const Decision& d : happened.decisions)
            if (d.trigger == trigger.kind && d.cause > 0) wanted.on = d.on;
        if (wanted.on.empty()) return {};
    }
    std::vector<int> numbers;
    for (std::size_t b = 0; b < data.bindings.size(); ++b) {
        const model::Binding& binding = data.bindings[b];
        if (binding.actions.empty()) continue;
        Decision like;
        like.cause = 1;
        like.trigger = binding.trigger;
        like.on = binding.name + (binding.other.empty() ? "" : "+" + binding.other);
        if (matches(wanted, like)) numbers.push_back(static_cast<int>(b + 1));
    }
    return numbers;
}

} // namespace v0
} // namespace kiai
