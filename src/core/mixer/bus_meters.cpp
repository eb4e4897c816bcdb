#include "core/mixer/bus_meters.h"

#include "core/dsp/math.h"

#include <algorithm>

namespace kiai::mixer {

void BusMeters::ask(int bus) {
    if (bus < 0 || bus >= most_buses || at(bus)) return;
    all_.push_back(std::make_unique<Metered>(rate_, kernels_));
    slots_[static_cast<std::size_t>(bus)].store(all_.back().get(), std::memory_order_release);
}

BusLevel BusMeters::level(int bus) const noexcept {
    const Metered* const metered = bus < 0 ? nullptr : at(bus);
    if (!metered) return {};
    BusLevel level;
    level.peak = metered->peak.load(std::memory_order_relaxed);
    level.true_peak = metered->true_peak.load(std::memory_order_relaxed);
    level.momentary = static_cast<float>(dsp::loudness_of(metered->momentary.load(std::memory_order_relaxed)));
    level.short_term = static_cast<float>(dsp::loudness_of(metered->short_term.load(std::memory_order_relaxed)));
    const double gain = static_cast<double>(metered->gain.load(std::memory_order_relaxed));
    level.reduction = gain < 1 ? static_cast<Decibels>(-dsp::gain_to_db(gain)) : 0;
    return level;
}

void BusMeters::measure(int bus, const float* left, const float* right, int frames) noexcept {
    Metered* const metered = at(bus);
    if (!metered) return;
    metered->meter.measure(left, right, frames);
    if (bus == 0) {
        for (; metered->block < metered->meter.blocks(); ++metered->block)
            metered->gains[static_cast<std::size_t>(metered->block + 1) % gain_blocks] = 1;
        float& least = metered->gains[static_cast<std::size_t>(metered->block) % gain_blocks];
        least = std::min(least, limiter_gain_);
        metered->gain.store(*std::min_element(metered->gains.begin(), metered->gains.end()), std::memory_order_relaxed);
    }
    metered->peak.store(metered->meter.peak(), std::memory_order_relaxed);
    metered->true_peak.store(metered->meter.true_peak(), std::memory_order_relaxed);
    metered->momentary.store(metered->meter.mean_square(dsp::Meter::momentary), std::memory_order_relaxed);
    metered->short_term.store(metered->meter.mean_square(dsp::Meter::short_term), std::memory_order_relaxed);
}

} // namespace kiai::mixer
