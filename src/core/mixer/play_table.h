// All current plays and their voices: storage, order and counts.
#pragma once

#include "core/mixer/active.h"
#include "core/mixer/handles.h"
#include "core/mixer/holder_lines.h"
#include "core/mixer/items.h"
#include "core/mixer/journal.h"
#include "core/mixer/plan.h"
#include "core/mixer/play_board.h"
#include "core/mixer/play_tables.h"
#include "core/mixer/streams.h"
#include "core/mixer/wanted.h"

#include <span>
#include <vector>

namespace kiai::mixer {

/// Shared by the classes that start, end, limit, control, mix and change plays. They may read and change all members;
/// functions change what must stay consistent. One thread. [rt]
struct PlayTable {
    /// There are as many again for plays that fade.
    static constexpr std::size_t most_plays(int voices) noexcept { return static_cast<std::size_t>(voices) * 2; }

    /// [control] Allocates all memory: `voices_counted` that limits count, and as many again for plays that fade.
    PlayTable(const Plan& first_plan, Journal& to_journal, Handles& all_handles, Streams& all_streams,
              BusMeters& bus_meters, BusInserts& bus_inserts, PlayBoard& play_board, int sample_rate,
              std::uint64_t chance_seed, int voices_counted, bool only_decides);

    void append(PlayLine& to, PlayLink ActivePlay::*link, int index) noexcept;
    void take_out(PlayLine& from, PlayLink ActivePlay::*link, int index) noexcept;
    /// From now on limits count the play.
    void count(int index) noexcept;
    /// From now on no limit counts the play, because it ended or was stopped.
    void uncount(int index, Frames now) noexcept;
    bool belongs(const ActivePlay& play, Which which) const noexcept;
    /// Returns the buses on which the play counts, from its own up to `main`.
    const std::vector<int>& buses_of(const ActivePlay& play) const noexcept { return plan->path(play.bus); }
    /// Calls `use` with each of them that sounds or is ending, oldest first.
    template<class Use>
    void for_each(Which which, const Use& use) noexcept;
    /// Updates whether the play counts for ducking. Call it after each change that affects this.
    void count_for_ducks(ActivePlay& play, Frames now) noexcept;
    /// Returns the linear gain of a play, by the app and its sound.
    float level_of(const ActivePlay& play) const noexcept;
    /// The play continues from where it was paused.
    void thaw(ActivePlay& play, Frames now) noexcept;
    /// Sets what the play's handle answers: its state, and where in its clip it is.
    void tell(const ActivePlay& play, Frames now) noexcept;
    void tell_place(const ActivePlay& play, std::span<const int> its_voices) noexcept;
    /// Returns true if a callback waits for the play's end.
    bool is_awaited(const ActivePlay& play) const noexcept;
    /// Returns the play of a handle, or no_play.
    int find(Handles::Handle handle) const noexcept;
    /// From now on the gains of a play's voices are computed cell by cell, and their pitch too if it `bends`.
    void make_movable(int index, bool bends, bool unheard) noexcept;
    /// Sets a value of one play; returns false if its sound follows no such value.
    bool set_value(int index, model::NameId name, double value) noexcept;
    /// Returns the stream of a voice that starts at a frame; null if the clip is in memory or no stream is free.
    Stream* stream_for(const VoiceStory& story, std::int64_t turns, std::int64_t from) noexcept;
    void end_voice(int slot, Frames end) noexcept;
    /// Writes which plays have ended, and frees them.
    void close_ended() noexcept;

    const Plan* plan;
    Journal& journal;
    Handles& handles;
    Streams& streams;
    BusMeters& meters;
    BusInserts& inserts;
    PlayBoard& board;
    const dsp::FilterBank& filters = dsp::FilterBank::instance();
    const int rate;
    const std::uint64_t seed;
    const int most_voices;
    const bool decide_only;

    PlayTables tables;
    std::vector<ActivePlay> plays;
    std::vector<int> free_plays;
    std::vector<int> play_of_slot; ///< by the slot of a handle
    PlayLine line;                 ///< all that sound
    HolderLines held;
    std::vector<EndedPlay> ended_awaited;
    std::vector<ActiveVoice> voices;
    std::vector<VoiceStory> stories; ///< one per voice
    std::vector<int> free_voices;
    std::vector<int> order; ///< voices in the order in which they started; those of a play are contiguous
    std::vector<int> ended; ///< plays without a voice, not closed yet
    std::uint32_t next_id = 1;
    int counted_voices = 0;
    int counted_streams = 0;
    int sounding = 0;
    int looping = 0; ///< for_ever
    int awaited = 0;
};

template<class Use>
void PlayTable::for_each(Which which, const Use& use) noexcept {
    if (which.kind == Which::Kind::held) {
        const PlayLine* const own = held.find(which.number);
        for (int i = own ? own->oldest : no_play; i != no_play;) {
            const int next = item(plays, i).of_holder.newer; // `use` may take it out
            use(i);
            i = next;
        }
        return;
    }
    const bool many = which.kind != Which::Kind::sound;
    const auto link = many ? &ActivePlay::of_all : &ActivePlay::of_sound;
    const PlayLine& all = many ? line : item(tables.sounds, static_cast<int>(which.number)).line;
    for (int i = all.oldest; i != no_play; i = (item(plays, i).*link).newer)
        if (belongs(item(plays, i), which)) use(i);
}

} // namespace kiai::mixer
