#include "core/mixer/bus_mixer.h"

#include "core/dsp/math.h"

#include <algorithm>

namespace kiai::mixer {

using dsp::cell;

BusMixer::BusMixer(const PlannedBuses& plan, int most_frames) : plan_(&plan), buses_(plan.all.size()) {
    for (std::size_t b = 0; b < buses_.size(); ++b) {
        Bus& bus = buses_[b];
        bus.toned = plan.all[b].toned;
        bus.smoothed.resize(plan.all[b].movers.size());
        if (b == 0) continue;
        bus.left.resize(static_cast<std::size_t>(most_frames));
        bus.right.resize(static_cast<std::size_t>(most_frames));
    }
}

void BusMixer::go_on_from(const BusMixer& was, Frames now) noexcept {
    for (std::size_t b = 0; b < was.buses_.size(); ++b) {
        const Bus& before = was.buses_[b];
        Bus& bus = buses_[b];
        bus.toned = bus.toned || before.toned;
        if (!bus.toned) continue;
        bus.ringing = before.ringing;
        bus.tone = before.tone;
        bus.from = before.last;
        bus.changed = now;
        bus.begun = true;
        if (!before.begun) bus.tone.start({}, plan_->rate);
        bus.fresh = true;
    }
}

void BusMixer::begin(Frames now, int frames, float* left, float* right) noexcept {
    now_ = now;
    frames_ = frames;
    main_left_ = left;
    main_right_ = right;
}

BusMixer::Sides BusMixer::open(int index) noexcept {
    if (index == 0) {
        of(0).used = true;
        return {main_left_, main_right_};
    }
    Bus& bus = of(index);
    if (!bus.used) {
        std::fill_n(bus.left.begin(), frames_, 0.0f);
        std::fill_n(bus.right.begin(), frames_, 0.0f);
        bus.used = true;
    }
    return {bus.left.data(), bus.right.data()};
}

/// Sets the targets of a bus's filters for the cell that starts at `now`.
void BusMixer::aim(int index, std::span<const double> dials, Frames now) noexcept {
    const PlannedBus& planned = plan_->all[static_cast<std::size_t>(index)];
    Bus& bus = of(index);
    Mixed mixed;
    mixed.cutoffs = planned.cutoffs;
    Moment moment;
    moment.dials = dials;
    for (std::size_t m = 0; m < planned.movers.size(); ++m)
        apply(planned.movers[m], bus.smoothed[m], moment, bus.fresh, mixed);
    bus.fresh = false;
    bus.last = mixed.cutoffs;
    if (bus.changed >= 0) {
        const double to_go = dsp::fall(static_cast<double>(now - bus.changed) / (change_seconds * plan_->rate));
        bus.last = bus.last.between(bus.from, to_go);
        if (to_go == 0) bus.changed = -1;
    }
    if (bus.begun)
        bus.tone.next_cell(bus.last, plan_->rate);
    else
        bus.tone.start(bus.last, plan_->rate);
    bus.begun = true;
}

/// Filters cell by cell of the clock, so that the ends of stretches make no difference.
void BusMixer::filter(int index, std::span<const double> dials, bool sounds) noexcept {
    Bus& bus = of(index);
    const Sides sides = sounds ? open(index) : Sides{};
    for (int done = 0; done < frames_;) {
        const Frames now = now_ + done;
        const int to_cell = cell - static_cast<int>(now % cell), part = std::min(frames_ - done, to_cell);
        if (!bus.begun || to_cell == cell) aim(index, dials, now);
        if (sounds)
            bus.tone.process(sides.left + done, sides.right + done, part);
        else
            bus.tone.pass(part);
        done += part;
    }
    bus.ringing = !bus.tone.silent();
}

void BusMixer::scale(const BusGains& gains, int index) noexcept {
    const Sides sides = open(index);
    if (const float* const shape = gains.shape(index)) {
        for (int i = 0; i < frames_; ++i) sides.left[i] *= shape[i];
        for (int i = 0; i < frames_; ++i) sides.right[i] *= shape[i];
        return;
    }
    const float gain = gains.steady(index);
    if (gain == 1) return;
    for (int i = 0; i < frames_; ++i) sides.left[i] *= gain;
    for (int i = 0; i < frames_; ++i) sides.right[i] *= gain;
}

void BusMixer::mix(const BusGains& gains, std::span<const double> dials, BusInserts& inserts, BusMeters& meters,
                   Journal& journal) noexcept {
    for (const int index : plan_->children_first) {
        Bus& bus = of(index);
        const bool heard = bus.used || bus.ringing;
        const bool inserted = inserts.needs(index, heard), sounds = heard || inserted;
        if (bus.toned && (sounds || bus.changed >= 0 || !plan_->all[static_cast<std::size_t>(index)].movers.empty()))
            filter(index, dials, sounds);
        if (!sounds) {
            meters.measure(index, nullptr, nullptr, frames_);
            continue;
        }
        const Sides own = open(index);
        if (inserted) inserts.process(index, heard, own.left, own.right, frames_, now_, journal);
        scale(gains, index);
        meters.measure(index, own.left, own.right, frames_);
        bus.used = false;
        if (index == 0) continue;
        const Sides into = open(plan_->all[static_cast<std::size_t>(index)].into);
        for (int i = 0; i < frames_; ++i) into.left[i] += own.left[i];
        for (int i = 0; i < frames_; ++i) into.right[i] += own.right[i];
    }
}

} // namespace kiai::mixer
