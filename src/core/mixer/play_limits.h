// Decides which play may start and which is stolen for it: gap, the sound's own limit, each bus upwards, the engine's
// voices. Everything is decided before anything is carried out.
#pragma once

#include "core/mixer/endings.h"
#include "core/mixer/starts.h"

namespace kiai::mixer {

class PlayLimits {
  public:
    /// [control]
    PlayLimits(PlayTable& table, Starts& starts, Endings& endings);

    /// Decides whether a play may start, and which plays end for it. If it may not, writes that and returns false. [rt]
    bool admits(const Wanted& wanted, Frames now) noexcept;
    /// Ends the chosen plays and writes it. Returns true if one of them has hardly started. [rt]
    bool make_way(const Wanted& wanted, Frames now) noexcept;
    /// Returns true if a play counts for a limit: that of `sound`, of a bus, or of the engine. [rt]
    bool in(int index, std::int16_t limit, int sound) const noexcept;
    /// Notes which limit decides, its measured value and its maximum. [rt]
    void note_limit(decisions::Record& record, std::int16_t limit, int sound, Frames now) const noexcept;

  private:
    /// A play and the limit that steals it.
    struct Victim {
        int play = no_play;
        std::int16_t limit = 0;
        model::Full rule = model::Full::end_oldest;
    };

    static constexpr int no_gap = -2, gap_of_sound = -1;

    int gap_that_refuses(const Wanted& wanted, Frames now) noexcept;
    bool refused(const Wanted& wanted, int gap, Frames now) noexcept;
    int bus_of(const Wanted& wanted) const noexcept;
    bool make_voices_free(const Wanted& wanted, int voices, int streams, Frames now) noexcept;
    bool make_room(const Wanted& wanted, const model::Limit& limit, std::int16_t number, decisions::Record& record,
                   Frames now) noexcept;
    int weaker_contact(const Wanted& wanted, std::int16_t limit, Frames now) const noexcept;
    bool contact_now(const ActivePlay& play, Frames now) const noexcept;
    int pick_victim(const Wanted& wanted, model::Full rule, std::int16_t limit, Frames now,
                    bool streams = false) const noexcept;
    double expected(int slot) const noexcept;
    double expected_of_drawn(const Wanted& wanted) const noexcept;

    PlayTable& table_;
    Starts& starts_;
    Endings& endings_;
    std::vector<Victim> victims_;
};

} // namespace kiai::mixer
