#include "core/mixer/plan.h"

#include "core/dsp/resampler.h"
#include "core/model/parallel.h"

#include <algorithm>
#include <map>

namespace kiai::mixer {
namespace {

/// Each rate needs a table, and no real project has so many. Clips of further rates stay unconverted.
constexpr std::size_t most_rates = 32;

bool of_lfo(const Mover& mover) {
    return !mover.lfo &&
           (mover.follow->target == model::FollowTarget::depth || mover.follow->target == model::FollowTarget::rate);
}

/// Adds what moves a play while it sounds. A follow of the trigger is constant, so it is not one of them.
void add_movers(const std::vector<model::Lfo>& lfos, const std::vector<model::Follow>& follows, bool of_sound, int rate,
                model::NameTable& names, std::vector<model::NameId>& own_names, std::vector<Mover>& movers) {
    // LFOs are distinguished by their index among the LFOs alone.
    const auto first = static_cast<std::uint32_t>(
        std::count_if(movers.begin(), movers.end(), [](const Mover& mover) { return !of_lfo(mover); }));
    const auto add = [&](const model::Follow& follow) {
        if (follow.value != model::Value::own) return movers.push_back(Mover::of(follow, follow.dial, rate));
        const model::NameId name = names.add(follow.own);
        const auto at = std::find(own_names.begin(), own_names.end(), name);
        movers.push_back(Mover::of(follow, static_cast<int>(at - own_names.begin()), rate));
        if (at == own_names.end()) own_names.push_back(name);
    };
    std::uint32_t number = 0;
    for (const model::Lfo& lfo : lfos) {
        for (const model::Follow& follow : lfo.follows) add(follow); // before the LFO that they move
        movers.push_back(Mover::of(lfo, first + number++, of_sound));
    }
    for (const model::Follow& follow : follows)
        if (follow.value == model::Value::dial || follow.value == model::Value::own) add(follow);
}

bool moves_filter(const std::vector<model::Follow>& follows) {
    return std::any_of(follows.begin(), follows.end(), [](const model::Follow& follow) {
        return follow.target == model::FollowTarget::low_pass || follow.target == model::FollowTarget::high_pass;
    });
}

} // namespace

Plan::Plan(std::shared_ptr<const model::Project> project, model::NameTable& names, int rate,
           const dsp::Kernels& kernels)
    : project_(std::move(project)), buses_(project_->buses, rate), rate_(rate) {
    convert_clips(kernels);
    for (const model::Sound& sound : project_->sounds) {
        sounds_.push_back(plan_sound(sound, names, rate));
        const PlannedSound& planned = sounds_.back();
        if (!sound.gone) sound_by_name_.add(planned.name, static_cast<int>(sounds_.size()) - 1);
        most_layers_ = std::max(most_layers_, planned.layers.size());
        most_own_ = std::max(most_own_, planned.own_names.size());
        for (const PlannedLayer& layer : planned.layers) {
            most_movers_ = std::max(most_movers_, layer.movers.size());
            toned_ = toned_ || layer.toned;
        }
    }
    for (std::size_t d = 0; d < project_->dials.size(); ++d)
        if (!project_->dials[d].gone) dial_by_name_.add(names.add(project_->dials[d].name), static_cast<int>(d));
    for (std::size_t b = 0; b < project_->buses.size(); ++b)
        if (!project_->buses[b].gone) bus_by_name_.add(names.add(project_->buses[b].name), static_cast<int>(b));
    for (const model::Binding& binding : project_->bindings) {
        add_actions(binding.actions);
        if (binding.trigger != ReportKind::ended || binding.name.empty()) continue;
        if (const int sound = sound_of(names.add(binding.name)); sound >= 0)
            sounds_[static_cast<std::size_t>(sound)].awaited = true;
    }
    for (const model::Sequence& sequence : project_->sequences) add_actions(sequence.steps);
}

/// Converts all clips in memory that some layer plays once through and that have another rate.
void Plan::convert_clips(const dsp::Kernels& kernels) {
    converted_.resize(project_->clips.size());
    std::vector<bool> wanted(converted_.size());
    for (const model::Sound& sound : project_->sounds)
        for (const model::Layer& layer : sound.layers)
            for (const int take : layer.takes)
                if (!layer.loop.on) wanted[static_cast<std::size_t>(take)] = true;
    std::vector<std::size_t> unconverted;
    std::map<int, dsp::Resampler> resamplers; // by the rates of the clips
    for (std::size_t c = 0; c < wanted.size(); ++c) {
        const model::Clip& clip = project_->clips[c];
        const model::Audio* came = clip.audio.get();
        if (!wanted[c] || clip.own_rate || !came || came->stream || came->rate == rate_) continue;
        if (!dsp::Resampler::can(came->rate, rate_) || (converted_[c] = came->at_rate(rate_))) continue;
        if (!resamplers.contains(came->rate) && resamplers.size() == most_rates) continue;
        unconverted.push_back(c);
        resamplers.try_emplace(came->rate, came->rate, rate_, kernels);
    }
    model::in_parallel(unconverted.size(), [&](std::size_t i) {
        const auto& came = project_->clips[unconverted[i]].audio;
        converted_[unconverted[i]] = came->convert(resamplers.at(came->rate));
    });
    for (const auto& clip : converted_) converted_bytes_ += clip ? clip->bytes() : 0;
}

void Plan::add_action(const model::Action& action) {
    const auto number = static_cast<std::size_t>(action.number);
    if (actions_.size() <= number) actions_.resize(number + 1);
    actions_[number] = &action;
}

void Plan::add_actions(const std::vector<model::Action>& actions) {
    for (const model::Action& action : actions) add_action(action);
}

void Plan::add_actions(const std::vector<model::Step>& steps) {
    for (const model::Step& step : steps) {
        if (step.kind == model::Step::Kind::act) add_action(step.action);
        for (const auto& part : step.parts) add_actions(part);
    }
}

PlannedSound Plan::plan_sound(const model::Sound& sound, model::NameTable& names, int rate) const {
    PlannedSound planned;
    planned.sound = &sound;
    planned.name = names.add(sound.name);
    planned.hash = model::hash(sound.name);
    planned.gap = sound.limit.gap.frames(rate);
    planned.fade_in = sound.fade_in.frames(rate);
    if (planned.fade_in > 0) planned.fade_in = std::max(planned.fade_in, static_cast<Frames>(shortest_rise * rate));
    planned.fade_out = sound.fade_out.frames(rate);
    planned.endless = sound.endless();
    for (const model::Layer& layer : sound.layers) {
        PlannedLayer& own = planned.layers.emplace_back();
        bool any_converted = false;
        for (const int take : layer.takes) {
            const auto& came = project_->clips[static_cast<std::size_t>(take)].audio;
            const auto& converted = converted_[static_cast<std::size_t>(take)];
            any_converted = any_converted || (converted && !layer.loop.on);
            const auto& played = converted && !layer.loop.on ? converted : came;
            own.takes.push_back({played, came->rate, Lap(*played, layer.loop)});
        }
        for (const int take : layer.takes) {
            if (!any_converted) break;
            const auto& came = project_->clips[static_cast<std::size_t>(take)].audio;
            own.looped.push_back({came, came->rate, Lap(*came, layer.loop)});
        }
        add_movers(sound.lfos, sound.follows, true, rate, names, planned.own_names, own.movers);
        add_movers(layer.lfos, layer.follows, false, rate, names, planned.own_names, own.movers);
        own.toned = !layer.cutoffs.open() || moves_filter(sound.follows) || moves_filter(layer.follows);
        own.bends = std::any_of(own.movers.begin(), own.movers.end(),
                                [](const Mover& mover) { return mover.target() == model::FollowTarget::pitch; });
    }
    return planned;
}

} // namespace kiai::mixer
