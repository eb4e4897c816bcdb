// Fires a trigger many times, and compares the random choices with what the project states.
#pragma once

#include <kiai/load.h>
#include <kiai/workshop/fire.h>

#include <map>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct SimulateSettings {
    int times = 10000;               ///< 1 … 1000000
    Seconds interval = Seconds(0.5); ///< between two triggers, 0.01 … 3600
    FireSettings fire;               ///< `listen` is not used
    Progress progress = {};          ///< fired triggers
};

/// The distribution of a number, and the one that the project states.
struct Histogram {
    double low = 0, high = 0;   ///< of all bins; equal: the number was constant
    std::vector<int> counts;    ///< per bin, all of the same width
    std::vector<double> stated; ///< parts of 1 per bin; empty if the project states none
    double difference = 0;      ///< Kolmogorov-Smirnov distance to the stated distribution
};

struct SimulatedTake {
    std::string clip;
    int count = 0;
    double stated = 0; ///< parts of 1
};

struct SimulatedLayer {
    int layer = 1;                    ///< of its sound, from 1
    int heard = 0;                    ///< number of plays with this layer
    double chance = 1;                ///< as stated
    std::string pick;                 ///< `shuffle`, `weighted`, `cycle`
    std::vector<SimulatedTake> takes; ///< in the order of kiai.toml
    int same_twice = 0;               ///< how often the same take was picked twice in a row
    Histogram pitch, gain;            ///< semitones, dB
};

struct SimulatedSound {
    std::string sound;
    int plays = 0;
    std::map<std::string, int> refused; ///< by rule: `gap`, `sound oak`
    int stolen = 0;
    std::vector<SimulatedLayer> layers;
};

struct Simulation {
    int binding = 0;
    std::string trigger;
    int times = 0;
    std::uint64_t seed = 0;
    std::map<std::string, int> kept;    ///< how often each condition of the binding was false
    std::vector<SimulatedSound> sounds; ///< the sounds that the binding played
    std::string impossible;             ///< why the trigger cannot be repeated; empty if it was fired
};

/// Fires the binding with this number, from 1, many times in one engine. [control]
Simulation simulate(const Project& project, int binding, const SimulateSettings& settings = {});

} // namespace kiai::inline v0
