#include "core/model/effects.h"

#include <algorithm>

namespace kiai::model {
namespace {

/// Calls `use` with the actions of a binding and those of the sequences that they run.
void for_each_action_in_the_end(const Project& project, const std::vector<Action>& actions, std::set<int>& sequences,
                                const std::function<void(const Action&)>& use) {
    for (const Action& action : actions) {
        use(action);
        if (action.verb != Verb::run || !sequences.insert(action.index).second) continue;
        for_each_action(project.sequences[static_cast<std::size_t>(action.index)].steps,
                        [&](const Action& step) { for_each_action_in_the_end(project, {step}, sequences, use); });
    }
}

/// Returns true if `other` responds to what `done` does.
bool answers(const Project& project, const Binding& other, const Action& done) {
    if (done.verb == Verb::notice) return other.trigger == ReportKind::notice && other.name == done.name;
    return other.trigger == ReportKind::ended && done.target == Target::sound && starts(done.verb) &&
           other.name == project.sounds[static_cast<std::size_t>(done.index)].name;
}

} // namespace

bool starts(Verb verb) noexcept {
    return verb == Verb::play || verb == Verb::hold || verb == Verb::toggle || verb == Verb::restart;
}

void for_each_action(const std::vector<Step>& steps, const std::function<void(const Action&)>& use) {
    for (const Step& step : steps) {
        if (step.kind == Step::Kind::act) use(step.action);
        for (const auto& part : step.parts) for_each_action(part, use);
    }
}

double shortest(const Project& project, const Sound& sound) {
    double longest = 0;
    for (const Layer& layer : sound.layers) {
        double least = 1e9;
        for (const int take : layer.takes) {
            const Clip& clip = project.clips[static_cast<std::size_t>(take)];
            if (clip.facts || clip.audio) least = std::min(least, static_cast<double>(clip.frames()) / clip.rate());
        }
        if (least < 1e9) longest = std::max(longest, least);
    }
    return longest;
}

std::set<int> sounds_started(const Project& project, const Binding& binding) {
    std::set<int> sounds, sequences;
    for_each_action_in_the_end(project, binding.actions, sequences, [&](const Action& action) {
        if (starts(action.verb) && action.target == Target::sound) sounds.insert(action.index);
    });
    return sounds;
}

std::set<int> sounds_started_in_the_end(const Project& project, const Binding& binding) {
    std::set<int> sounds;
    std::set<const Binding*> seen{&binding};
    std::vector<const Binding*> left{&binding};
    while (!left.empty()) {
        const Binding* const one = left.back();
        left.pop_back();
        sounds.merge(sounds_started(project, *one));
        std::set<int> sequences;
        for_each_action_in_the_end(project, one->actions, sequences, [&](const Action& action) {
            for (const Binding& other : project.bindings)
                if (answers(project, other, action) && seen.insert(&other).second) left.push_back(&other);
        });
    }
    return sounds;
}

} // namespace kiai::model
