#include "engine/plan.h"

#include <algorithm>

namespace kiai::engine {
namespace {

void index(std::vector<int>& by_name, NameId name, int number) {
    if (by_name.size() <= name) by_name.resize(name + 1, -1);
    by_name[name] = number;
}

/// Those that move a play while it sounds; what follows the trigger stands still from its begin on.
void add_movers(const std::vector<model::Lfo>& lfos, const std::vector<model::Follow>& follows, int rate,
                NameTable& names, std::vector<NameId>& own_names, std::vector<Mover>& movers) {
    for (const model::Lfo& lfo : lfos) movers.push_back(Mover::of(lfo, static_cast<std::uint32_t>(movers.size())));
    for (const model::Follow& follow : follows) {
        if (follow.value == model::Value::dial) movers.push_back(Mover::of(follow, follow.dial, rate));
        if (follow.value != model::Value::own) continue;
        const NameId name = names.add(follow.own);
        const auto at = std::find(own_names.begin(), own_names.end(), name);
        movers.push_back(Mover::of(follow, static_cast<int>(at - own_names.begin()), rate));
        if (at == own_names.end()) own_names.push_back(name);
    }
}

} // namespace

Plan::Plan(std::shared_ptr<const model::Project> project, NameTable& names, int rate) : project_(std::move(project)) {
    for (const model::Sound& sound : project_->sounds) {
        sounds_.push_back(plan_sound(sound, names, rate));
        const PlannedSound& planned = sounds_.back();
        index(by_name_, planned.name, static_cast<int>(sounds_.size()) - 1);
        most_layers_ = std::max(most_layers_, planned.layers.size());
        most_own_ = std::max(most_own_, planned.own_names.size());
        for (const PlannedLayer& layer : planned.layers) most_movers_ = std::max(most_movers_, layer.movers.size());
    }
    for (std::size_t d = 0; d < project_->dials.size(); ++d)
        index(dial_by_name_, names.add(project_->dials[d].name), static_cast<int>(d));
}

PlannedSound Plan::plan_sound(const model::Sound& sound, NameTable& names, int rate) const {
    PlannedSound planned;
    planned.sound = &sound;
    planned.name = names.add(sound.name);
    planned.hash = hash(sound.name);
    planned.gap = sound.limit.gap.frames(rate);
    planned.fade_in = sound.fade_in.frames(rate);
    planned.fade_out = sound.fade_out.frames(rate);
    planned.endless = sound.endless();
    for (int bus = sound.bus; bus >= 0; bus = project_->buses[static_cast<std::size_t>(bus)].into) {
        planned.buses.push_back(bus);
        planned.bus_gain += project_->buses[static_cast<std::size_t>(bus)].gain;
    }
    for (const model::Layer& layer : sound.layers) {
        PlannedLayer& own = planned.layers.emplace_back();
        for (const int take : layer.takes)
            own.laps.emplace_back(*project_->clips[static_cast<std::size_t>(take)].audio, layer.loop);
        add_movers(sound.lfos, sound.follows, rate, names, planned.own_names, own.movers);
        add_movers(layer.lfos, layer.follows, rate, names, planned.own_names, own.movers);
        own.bends = std::any_of(own.movers.begin(), own.movers.end(),
                                [](const Mover& mover) { return mover.moves() == model::Moves::pitch; });
    }
    return planned;
}

} // namespace kiai::engine
