// Finds which buses sound and which are ducked under them.
#pragma once

#include "core/mixer/bus_gains.h"
#include "core/mixer/journal.h"

#include <vector>

namespace kiai::mixer {

/// A bus sounds from the start of a play until `hold` after the last play was stopped or ended. Paused plays do not
/// count, and a muted bus does not sound. The hold keeps the gain from fluttering between two plays. It also hides at
/// which point of a block an end becomes known, so that the block size makes no difference.
class Ducks {
  public:
    /// [control] `most_frames`: the longest stretch.
    Ducks(const PlannedBuses& plan, int most_frames);

    /// Counts a play on its buses, or no longer. [rt]
    void add(const std::vector<int>& buses) noexcept;
    void remove(const std::vector<int>& buses, Frames now) noexcept;
    /// Takes over which buses sounded and were ducked; plays are counted again. If a duck was removed, its bus returns
    /// over `length` frames. [rt]
    void go_on_from(const Ducks& was, BusGains& gains, Frames length, Frames now) noexcept;
    /// Something that `look` depends on may have changed. [rt]
    void stir() noexcept { stirred_ = true; }

    /// Moves the gains of the buses that must step back or return, and writes which. [rt]
    void look(Frames now, BusGains& gains, Journal& journal) noexcept;
    /// Returns the next frame at which `look` must run. [rt]
    Frames next() const noexcept { return next_; }

  private:
    struct Bus {
        int plays = 0;
        bool sounds = false;
        Frames emptied = 0; ///< when `plays` came to 0
        int duck = -1;      ///< which of its own ducks has stepped it back
    };
    Bus& of(int bus) noexcept { return buses_[static_cast<std::size_t>(bus)]; }

    const PlannedBuses* plan_;
    Frames hold_;
    std::vector<Bus> buses_; ///< none where nothing is ducked
    bool stirred_ = false;
    Frames next_;
};

} // namespace kiai::mixer
