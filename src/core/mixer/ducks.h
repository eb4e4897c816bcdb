// Which buses sound, and which others step back for them.
#pragma once

#include "core/mixer/bus_gains.h"
#include "core/mixer/journal.h"

#include <vector>

namespace kiai::mixer {

/// A bus sounds from the start of a play on it until `hold` after the last one was stopped or ended; a paused play
/// does not count, and a muted bus does not sound. The hold keeps the gain from fluttering between two plays, and gives
/// the end of a play, which is known only once it was mixed, a time to be answered that no block size changes.
class Ducks {
  public:
    /// [control] `most_frames`: the longest stretch.
    Ducks(const PlannedBuses& plan, int most_frames);

    /// A play counts on its buses from now on, or no longer. [rt]
    void add(const std::vector<int>& buses) noexcept;
    void remove(const std::vector<int>& buses, Frames now) noexcept;
    /// Takes over which buses sounded and stepped back; plays are counted again. A duck that is no longer written lets
    /// its bus return over `length` frames. [rt]
    void go_on_from(const Ducks& was, BusGains& gains, Frames length, Frames now) noexcept;
    /// Something that `look` goes by may have changed. [rt]
    void stir() noexcept { stirred_ = true; }

    /// Moves the gains of those that have to step back or to return, and writes which. [rt]
    void look(Frames now, BusGains& gains, Journal& journal) noexcept;
    /// The next frame at which it has to. [rt]
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
