#include "core/mixer/ducks.h"

#include "core/dsp/math.h"

#include <algorithm>

namespace kiai::mixer {
namespace {
constexpr double hold_seconds = 0.05;
constexpr Frames never = Frames{1} << 62;
} // namespace

Ducks::Ducks(const PlannedBuses& plan, int most_frames)
    : plan_(&plan), hold_(std::max<Frames>(most_frames, static_cast<Frames>(hold_seconds * plan.rate))),
      buses_(plan.leaders.empty() ? 0 : plan.all.size()), next_(never) {}

void Ducks::add(const std::vector<int>& buses) noexcept {
    if (buses_.empty()) return;
    for (const int bus : buses) ++of(bus).plays;
    stirred_ = true;
}

void Ducks::remove(const std::vector<int>& buses, Frames now) noexcept {
    if (buses_.empty()) return;
    for (const int bus : buses)
        if (--of(bus).plays == 0) of(bus).emptied = now;
    stirred_ = true;
}

void Ducks::go_on_from(const Ducks& was, BusGains& gains, Frames length, Frames now) noexcept {
    for (std::size_t b = 0; b < was.buses_.size(); ++b) {
        const Bus& before = was.buses_[b];
        int same = -1;
        if (!buses_.empty()) {
            buses_[b].sounds = before.sounds;
            buses_[b].emptied = std::max(before.emptied, now - hold_);
            const auto& ducks = plan_->all[b].ducks;
            for (std::size_t d = 0; before.duck >= 0 && d < ducks.size(); ++d) {
                const PlannedDuck& old = was.plan_->all[b].ducks[static_cast<std::size_t>(before.duck)];
                if (ducks[d].under == old.under && ducks[d].decibels == old.decibels) same = static_cast<int>(d);
            }
            buses_[b].duck = same;
        }
        if (before.duck >= 0 && same < 0) gains.duck(static_cast<int>(b), 1, length, now);
    }
    stirred_ = true;
}

void Ducks::look(Frames now, BusGains& gains, Journal& journal) noexcept {
    if (buses_.empty() || (!stirred_ && now < next_)) return;
    stirred_ = false;
    next_ = never;
    for (const int leader : plan_->leaders) {
        Bus& bus = of(leader);
        if (gains.silenced(leader))
            bus.sounds = false;
        else if (bus.plays > 0)
            bus.sounds = true;
        else if (bus.sounds && now >= bus.emptied + hold_)
            bus.sounds = false;
        else if (bus.sounds)
            next_ = std::min(next_, bus.emptied + hold_);
    }
    for (std::size_t b = 0; b < buses_.size(); ++b) {
        const auto& ducks = plan_->all[b].ducks;
        int deepest = -1;
        for (std::size_t d = 0; d < ducks.size(); ++d)
            if (of(ducks[d].under).sounds &&
                (deepest < 0 || ducks[d].decibels < ducks[static_cast<std::size_t>(deepest)].decibels))
                deepest = static_cast<int>(d);
        Bus& bus = buses_[b];
        if (deepest == bus.duck) continue;
        const auto depth = [&](int duck) { return duck < 0 ? 0 : ducks[static_cast<std::size_t>(duck)].decibels; };
        const bool down = depth(deepest) < depth(bus.duck);
        const PlannedDuck& way = ducks[static_cast<std::size_t>(down || bus.duck < 0 ? deepest : bus.duck)];
        gains.duck(static_cast<int>(b), static_cast<float>(dsp::db_to_gain(depth(deepest))),
                   down ? way.attack : way.release, now);
        decisions::Record record;
        record.frame = now;
        record.outcome = deepest < 0 ? Outcome::duck_over : Outcome::ducked;
        record.limit = static_cast<std::int16_t>(b + 1);
        record.other =
            static_cast<std::uint32_t>(deepest < 0 ? way.under : ducks[static_cast<std::size_t>(deepest)].under) + 1;
        record.value = static_cast<float>(depth(deepest));
        journal.write(record);
        bus.duck = deepest;
    }
}

} // namespace kiai::mixer
