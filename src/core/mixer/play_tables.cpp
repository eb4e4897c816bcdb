#include "core/mixer/play_tables.h"

namespace kiai::mixer {

PlayTables::PlayTables(const Plan& plan, std::size_t plays)
    : own(plays * plan.most_own()), on_bus(plan.project().buses.size()), last_on_bus(plan.project().buses.size(), -1),
      gains(plan.buses(), most_frames), ducks(plan.buses(), most_frames), buses(plan.buses(), most_frames),
      drawn(plan.most_layers()), layer_records(plan.most_layers()), smoothed(plays * plan.most_movers()),
      tones(plan.toned() ? plays : 0) {
    for (const PlannedSound& planned : plan.sounds()) {
        SoundState& state = sounds.emplace_back();
        for (const model::Layer& layer : planned.sound->layers) state.picks.emplace_back(layer);
        state.heard.resize(state.picks.size());
    }
    for (const model::Dial& dial : plan.project().dials) dials.push_back(dial.start);
}

} // namespace kiai::mixer
