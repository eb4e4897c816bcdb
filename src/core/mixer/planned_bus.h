// A bus as the render thread needs it.
#pragma once

#include "core/dsp/cutoffs.h"
#include "core/mixer/movers.h"
#include "core/model/project.h"

#include <kiai/units.h>

#include <vector>

namespace kiai::mixer {

/// One bus is ducked while another sounds.
struct PlannedDuck {
    int under = 0;       ///< the bus that has to sound
    double decibels = 0; ///< below 0
    Frames attack = 0, release = 0;
};

struct PlannedBus {
    float gain = 1;        ///< kiai.toml's, linear
    double decibels = 0;   ///< the same with all above it
    Frames gap = 0;        ///< between two starts on it
    int into = -1;         ///< `main`: -1
    std::vector<int> path; ///< from itself up to `main`
    std::vector<PlannedDuck> ducks;
    dsp::Cutoffs cutoffs;      ///< before its movers
    std::vector<Mover> movers; ///< follows of dials
    bool toned = false;        ///< it has a filter
};

/// All buses of a project, by their numbers.
struct PlannedBuses {
    /// [control]
    PlannedBuses(const std::vector<model::Bus>& buses, int sample_rate);

    int rate;
    std::vector<PlannedBus> all;
    std::vector<int> children_first; ///< each before the one that it goes into; else by number
    std::vector<int> leaders;        ///< those that others are ducked under, each once
};

} // namespace kiai::mixer
