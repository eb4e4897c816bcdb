#include "core/mixer/change.h"

#include "core/model/binding_names.h"

#include <algorithm>
#include <map>

namespace kiai::mixer {
namespace {

/// The samples may have been decoded again. A streamed clip is compared by its head.
bool same_samples(const model::Audio& was, const model::Audio& is) {
    return &was == &is || (was.rate == is.rate && was.channels == is.channels && was.frames == is.frames &&
                           was.held == is.held && was.narrow == is.narrow && was.wide == is.wide);
}

bool same_takes(const Plan& before, const model::Layer& was, const Plan& after, const model::Layer& is, bool gains) {
    return std::equal(was.takes.begin(), was.takes.end(), is.takes.begin(), is.takes.end(), [&](int a, int b) {
        const model::Clip& old = before.project().clips[static_cast<std::size_t>(a)];
        const model::Clip& now = after.project().clips[static_cast<std::size_t>(b)];
        return same_samples(*old.audio, *now.audio) && (!gains || old.gain == now.gain);
    });
}

/// Compares what is heard when, ignoring level and pitch.
bool same_course(const Plan& before, const model::Sound& was, const Plan& after, const model::Sound& is) {
    return std::equal(was.layers.begin(), was.layers.end(), is.layers.begin(), is.layers.end(),
                      [&](const model::Layer& a, const model::Layer& b) {
                          return a.loop == b.loop && a.start == b.start && a.delay == b.delay &&
                                 same_takes(before, a, after, b, false);
                      });
}

bool same_in_all(const Plan& before, const PlannedSound& was, const Plan& after, const PlannedSound& is) {
    if (was.own_names != is.own_names) return false;
    model::Sound a = *was.sound, b = *is.sound;
    if (!std::equal(
            a.layers.begin(), a.layers.end(), b.layers.begin(), b.layers.end(),
            [&](const model::Layer& x, const model::Layer& y) { return same_takes(before, x, after, y, true); }))
        return false;
    for (model::Layer& layer : a.layers) layer.takes.clear(); // clips have other numbers now
    for (model::Layer& layer : b.layers) layer.takes.clear();
    return a == b;
}

Change::Of became(const Plan& before, const PlannedSound& was, const Plan& after, const PlannedSound& is) {
    if (is.sound->unready) return Change::Of::nothing; // what is playing has its clips still
    if (is.sound->layers.empty()) return Change::Of::gone;
    if (was.endless && !same_course(before, *was.sound, after, *is.sound)) return Change::Of::restarts;
    return same_in_all(before, was, after, is) ? Change::Of::nothing : Change::Of::moved;
}

bool same_steps(const model::Sequence& was, const model::Sequence& is) {
    return was.scope == is.scope && std::equal(was.steps.begin(), was.steps.end(), is.steps.begin(), is.steps.end(),
                                               [](const model::Step& a, const model::Step& b) { return a.same_as(b); });
}

/// Collects all actions in the steps, in order.
void collect(const std::vector<model::Step>& steps, std::vector<int>& numbers) {
    for (const model::Step& step : steps) {
        if (step.kind == model::Step::Kind::act) numbers.push_back(step.action.number);
        for (const auto& part : step.parts) collect(part, numbers);
    }
}

} // namespace

Change::Change(const Plan& was, const Plan& is) : before(was), after(is), actions(was.actions().size(), -1) {
    const model::Project &old = was.project(), &now = is.project();
    for (std::size_t s = 0; s < was.sounds().size(); ++s)
        sounds.push_back(became(was, was.sounds()[s], is, is.sounds()[s]));
    std::map<std::string, int> clip_of;
    for (std::size_t c = 0; c < now.clips.size(); ++c) clip_of.emplace(now.clips[c].name, static_cast<int>(c));
    for (const model::Clip& clip : old.clips) {
        const auto found = clip_of.find(clip.name);
        clips.push_back(found == clip_of.end() ? -1 : found->second);
    }
    for (std::size_t b = 0; b < old.buses.size(); ++b) {
        const auto same = [&](const model::Bus& bus) { return !bus.gone && bus.name == old.buses[b].name; };
        const auto found = same(now.buses[b]) ? now.buses.begin() + static_cast<std::ptrdiff_t>(b)
                                              : std::find_if(now.buses.begin(), now.buses.end(), same);
        buses.push_back(found == now.buses.end() ? -1 : static_cast<int>(found - now.buses.begin()));
    }
    std::map<std::uint64_t, int> binding_of;
    for (const std::uint64_t name : model::names_of(now.bindings))
        binding_of.emplace(name, static_cast<int>(binding_of.size()));
    const std::vector<std::uint64_t> names = model::names_of(old.bindings);
    for (std::size_t b = 0; b < names.size(); ++b) {
        const auto found = binding_of.find(names[b]);
        bindings.push_back(found == binding_of.end() ? -1 : found->second);
        if (found == binding_of.end()) continue;
        const auto& acts = old.bindings[b].actions;
        const auto& acts_now = now.bindings[static_cast<std::size_t>(found->second)].actions;
        for (std::size_t a = 0; a < std::min(acts.size(), acts_now.size()); ++a)
            if (acts[a].same_as(acts_now[a])) actions[static_cast<std::size_t>(acts[a].number)] = acts_now[a].number;
    }
    for (std::size_t q = 0; q < old.sequences.size(); ++q) {
        const bool same = !now.sequences[q].gone && same_steps(old.sequences[q], now.sequences[q]);
        same_sequence.push_back(same);
        if (!same) continue;
        std::vector<int> from, to;
        collect(old.sequences[q].steps, from);
        collect(now.sequences[q].steps, to);
        for (std::size_t a = 0; a < from.size(); ++a) actions[static_cast<std::size_t>(from[a])] = to[a];
    }
}

} // namespace kiai::mixer
