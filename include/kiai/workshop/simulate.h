// A trigger, fired many times: what was picked and drawn, beside what the project states.
#pragma once

#include <kiai/load.h>
#include <kiai/workshop/fire.h>

#include <map>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct SimulateSettings {
    int times = 10000;               ///< 1 … 1000000
    Seconds interval = Seconds(0.5); ///< from one to the next, 0.01 … 3600
    FireSettings fire;               ///< `listen` is not used
    Progress progress = {};          ///< how many were fired
};

/// How often a number came, and how often the project says that it would.
struct Histogram {
    double low = 0, high = 0;   ///< of the bins together; equal: it was always this
    std::vector<int> counts;    ///< per bin, of even width
    std::vector<double> stated; ///< parts of 1 per bin; empty where the project does not say
    double difference = 0;      ///< largest distance of the cumulated parts, of each draw (Kolmogorov-Smirnov)
};

struct SimulatedTake {
    std::string clip;
    int count = 0;
    double stated = 0; ///< parts of 1
};

struct SimulatedLayer {
    int layer = 1;                    ///< of its sound, from 1
    int heard = 0;                    ///< in how many plays
    double chance = 1;                ///< as stated
    std::string pick;                 ///< `shuffle`, `weighted`, `cycle`
    std::vector<SimulatedTake> takes; ///< in the order of kiai.toml
    int same_twice = 0;               ///< how often the same take came twice running
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
    std::map<std::string, int> kept;    ///< how often a condition of the binding kept it, by the condition
    std::vector<SimulatedSound> sounds; ///< that it began, in the end
    std::string impossible;             ///< why it cannot be fired again and again; empty: it was
};

/// Fires the n-th binding of kiai.toml, from 1, again and again in one engine. [control]
Simulation simulate(const Project& project, int binding, const SimulateSettings& settings = {});

} // namespace kiai::inline v0
