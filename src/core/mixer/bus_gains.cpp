#include "core/mixer/bus_gains.h"

#include <algorithm>

namespace kiai::mixer {

BusGains::BusGains(const PlannedBuses& plan, int frames) : plan_(&plan), buses_(plan.all.size()) {
    for (std::size_t b = 0; b < buses_.size(); ++b) {
        Bus& bus = buses_[b];
        bus.now = plan.all[b].gain;
        bus.own.start(plan.rate, bus.now);
        bus.ducking.start(plan.rate, 1);
        bus.own_shape.resize(static_cast<std::size_t>(frames));
        bus.shape.resize(static_cast<std::size_t>(frames));
    }
    moving_.reserve(buses_.size());
}

float BusGains::target(int bus) const noexcept {
    return of(bus).muted ? 0 : of(bus).set * plan_->all[static_cast<std::size_t>(bus)].gain;
}

void BusGains::move(int bus, Envelope Bus::*envelope, float to, Frames length, Frames now) noexcept {
    (of(bus).*envelope).move_to(to, now, length);
    if (of(bus).listed) return;
    of(bus).listed = true;
    moving_.push_back(bus);
}

void BusGains::go_on_from(const BusGains& was, Frames length, Frames now) noexcept {
    for (int bus = 0; bus < static_cast<int>(was.buses_.size()); ++bus) {
        of(bus).set = was.of(bus).set;
        of(bus).muted = was.of(bus).muted;
        of(bus).now = was.of(bus).now;
        of(bus).own = was.of(bus).own;
        of(bus).ducking = was.of(bus).ducking;
        move(bus, &Bus::own, target(bus), length, now);
    }
}

void BusGains::adopt(int bus, const BusGains& was, int from) noexcept {
    of(bus).set = was.of(from).set;
    of(bus).muted = was.of(from).muted;
    of(bus).now = target(bus);
    of(bus).own.start(plan_->rate, of(bus).now);
}

void BusGains::set_gain(int bus, float gain, Frames length, Frames now) noexcept {
    of(bus).set = gain;
    move(bus, &Bus::own, target(bus), length, now);
}

void BusGains::mute(int bus, bool on, Frames now) noexcept {
    of(bus).muted = on;
    move(bus, &Bus::own, target(bus), 0, now);
}

void BusGains::duck(int bus, float gain, Frames length, Frames now) noexcept {
    move(bus, &Bus::ducking, gain, length, now);
}

bool BusGains::silenced(int bus) const noexcept {
    const auto& path = plan_->all[static_cast<std::size_t>(bus)].path;
    return std::any_of(path.begin(), path.end(), [&](int up) { return of(up).muted; });
}

double BusGains::level(int bus) const noexcept {
    double level = 1;
    for (const int up : plan_->all[static_cast<std::size_t>(bus)].path) level *= static_cast<double>(target(up));
    return level;
}

void BusGains::write(Envelope& envelope, Frames now, int frames, float* out) noexcept {
    for (int done = 0; done < frames;) {
        const int part = envelope.stretch(now + done, frames - done);
        if (envelope.steady())
            std::fill_n(out + done, part, envelope.level());
        else
            envelope.write(now + done, part, out + done);
        done += part;
    }
}

void BusGains::begin(Frames now, int frames) noexcept {
    begin_ = now;
    if (moving_.empty() && !moved_) return;
    std::size_t kept = 0;
    for (const int index : moving_) {
        Bus& bus = of(index);
        bus.own.stretch(now, frames), bus.ducking.stretch(now, frames); // removes moves that have arrived
        bus.moving = !bus.own.steady() || !bus.ducking.steady();
        if (!bus.moving) {
            bus.now = bus.own.level() * bus.ducking.level();
            bus.listed = false;
            continue;
        }
        write(bus.own, now, frames, bus.own_shape.data());
        write(bus.ducking, now, frames, bus.shape.data());
        for (std::size_t i = 0; i < static_cast<std::size_t>(frames); ++i) bus.shape[i] *= bus.own_shape[i];
        moving_[kept++] = index;
    }
    moving_.resize(kept);
    look_at_paths();
    moved_ = kept > 0;
}

void BusGains::look_at_paths() noexcept {
    for (std::size_t b = 0; b < buses_.size(); ++b) {
        Bus& bus = buses_[b];
        bus.path_moves = false;
        bus.heard = 1;
        for (const int up : plan_->all[b].path) {
            bus.path_moves = bus.path_moves || of(up).moving;
            bus.heard *= static_cast<double>(of(up).own.level());
        }
    }
}

double BusGains::heard_moving(int bus, Frames frame) const noexcept {
    double gain = 1;
    for (const int up : plan_->all[static_cast<std::size_t>(bus)].path)
        gain *= static_cast<double>(of(up).moving ? of(up).own_shape[static_cast<std::size_t>(frame - begin_)]
                                                  : of(up).own.level());
    return gain;
}

} // namespace kiai::mixer
