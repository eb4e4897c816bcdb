#include "core/mixer/planned_bus.h"

#include "core/dsp/math.h"

#include <algorithm>

namespace kiai::mixer {

PlannedBuses::PlannedBuses(const std::vector<model::Bus>& buses, int sample_rate) : rate(sample_rate) {
    for (std::size_t b = 0; b < buses.size(); ++b) {
        const model::Bus& bus = buses[b];
        PlannedBus& planned = all.emplace_back();
        planned.gain = static_cast<float>(dsp::db_to_gain(bus.gain));
        planned.into = bus.into;
        planned.gap = bus.limit.gap.frames(rate);
        for (int up = static_cast<int>(b); up >= 0; up = buses[static_cast<std::size_t>(up)].into) {
            planned.path.push_back(up);
            planned.decibels += buses[static_cast<std::size_t>(up)].gain;
        }
        for (const model::Duck& duck : bus.ducks) {
            planned.ducks.push_back({duck.under, duck.gain, duck.attack.frames(rate), duck.release.frames(rate)});
            if (std::find(leaders.begin(), leaders.end(), duck.under) == leaders.end()) leaders.push_back(duck.under);
        }
        planned.cutoffs = bus.cutoffs;
        for (const model::Follow& follow : bus.follows) planned.movers.push_back(Mover::of(follow, follow.dial, rate));
        planned.toned = !bus.cutoffs.open() || !planned.movers.empty();
        children_first.push_back(static_cast<int>(b));
    }
    std::stable_sort(children_first.begin(), children_first.end(), [&](int a, int b) {
        return all[static_cast<std::size_t>(a)].path.size() > all[static_cast<std::size_t>(b)].path.size();
    });
}

} // namespace kiai::mixer
