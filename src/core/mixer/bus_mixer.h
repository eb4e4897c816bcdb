// The buffers of the buses: each is filtered, levelled and mixed into its parent.
#pragma once

#include "core/dsp/tone.h"
#include "core/mixer/bus_gains.h"
#include "core/mixer/bus_inserts.h"
#include "core/mixer/bus_meters.h"

#include <span>
#include <vector>

namespace kiai::mixer {

/// One pair of buffers per bus. A bus without plays costs nothing. `main` is mixed directly into the output.
class BusMixer {
  public:
    /// [control] Allocates all memory. `most_frames`: the longest stretch.
    BusMixer(const PlannedBuses& plan, int most_frames);

    /// Moves the filters from their old cutoffs to the new ones; a removed filter opens. [rt]
    void go_on_from(const BusMixer& was, Frames now) noexcept;

    /// Starts a stretch: `left` and `right` are silent, and become `main`. [rt]
    void begin(Frames now, int frames, float* left, float* right) noexcept;
    /// The buffer of a bus, to which its plays are added. [rt]
    struct Sides {
        float *left, *right;
    };
    Sides open(int bus) noexcept;
    /// Mixes all buses into `main`. `dials`: values by number. [rt]
    void mix(const BusGains& gains, std::span<const double> dials, BusInserts& inserts, BusMeters& meters,
             Journal& journal) noexcept;

  private:
    struct Bus {
        std::vector<float> left, right;
        bool used = false;    ///< in this stretch
        bool ringing = false; ///< its filter has not come to rest
        bool toned = false;
        bool begun = false; ///< the filter has a state
        bool fresh = true;  ///< its movers are not smoothed from where they were
        dsp::Tone tone;
        dsp::Cutoffs last, from;        ///< the target; and after a change of the project the old value
        Frames changed = -1;            ///< -1: it is not under way
        std::vector<Smoothed> smoothed; ///< one per mover
    };
    Bus& of(int bus) noexcept { return buses_[static_cast<std::size_t>(bus)]; }
    void filter(int index, std::span<const double> dials, bool sounds) noexcept;
    void aim(int index, std::span<const double> dials, Frames now) noexcept;
    void scale(const BusGains& gains, int index) noexcept;

    const PlannedBuses* plan_;
    std::vector<Bus> buses_;
    Frames now_ = 0;
    int frames_ = 0;
    float *main_left_ = nullptr, *main_right_ = nullptr;
};

} // namespace kiai::mixer
