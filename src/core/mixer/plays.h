// The current plays: the interface for the rules and the engine. Each kind of work is a class of its own.
#pragma once

#include "core/mixer/endings.h"
#include "core/mixer/play_control.h"
#include "core/mixer/play_limits.h"
#include "core/mixer/play_mixer.h"
#include "core/mixer/play_swap.h"
#include "core/mixer/play_table.h"
#include "core/mixer/starts.h"
#include "core/mixer/wanted.h"

namespace kiai::mixer {

class Plays {
  public:
    /// [control] Allocates all memory: `voices` that count, and as many again for plays that fade. `decide_only`: mixes
    /// nothing, so the output is silent and has no level; the decisions are the same.
    Plays(const Plan& plan, Journal& journal, Handles& handles, const dsp::Kernels& kernels, int rate,
          std::uint64_t seed, int voices, Streams& streams, BusMeters& meters, BusInserts& inserts, PlayBoard& board,
          bool decide_only)
        : table_(plan, journal, handles, streams, meters, inserts, board, rate, seed, voices, decide_only),
          starts_(table_), endings_(table_), limits_(table_, starts_, endings_), control_(table_, endings_),
          mixer_(table_, endings_, kernels), swap_(table_, starts_, endings_, limits_) {}
    Plays(const Plays&) = delete; // its parts know each other
    Plays& operator=(const Plays&) = delete;

    /// Continues with another project: unchanged plays continue, gains and similar settings move to their new values,
    /// changed loops restart, and removed sounds fade. `next`: the tables for the new project, which contain the old
    /// state afterwards. Decisions have `cause`. [rt]
    void change(const Change& change, PlayTables& next, const decisions::Record& cause, Frames now) noexcept {
        swap_.change(change, next, cause, now);
    }

    /// Plays a sound whole, or refuses it, and writes which. Returns the play's number, or 0. [rt]
    std::uint32_t request(const Wanted& wanted, Frames now) noexcept;

    /// Ends plays; returns how many. `seconds` below 0: as each sound says. A play that ends sooner is left alone. [rt]
    int stop(Which which, double seconds, std::uint64_t by, Frames now,
             FadeCurve curve = FadeCurve::equal_gain) noexcept {
        return control_.stop(which, seconds, curve, by, now);
    }
    /// Ends the plays of a scope, except those that outlive it. [rt]
    int leave(int scope, double seconds, std::uint64_t by, Frames now) noexcept {
        return control_.leave(scope, seconds, by, now);
    }
    /// Pauses plays after 10 ms, until all who paused them have resumed them. [rt]
    int pause(Which which, Pauser by, bool on, Frames now) noexcept { return control_.pause(which, by, on, now); }
    /// Sets the gain of all plays of a sound or on a bus from now on: dB, on top of kiai.toml's. [rt]
    void set_sound_gain(int sound, double decibels, double seconds, Frames now) noexcept {
        control_.set_sound_gain(sound, decibels, seconds, now);
    }
    void set_bus_gain(int bus, double decibels, double seconds, Frames now) noexcept {
        control_.set_bus_gain(bus, decibels, seconds, now);
    }
    void mute_sound(int sound, bool on, Frames now) noexcept { control_.mute_sound(sound, on, now); }
    void mute_bus(int bus, bool on, Frames now) noexcept { control_.mute_bus(bus, on, now); }
    /// Returns true if a play of the sound sounds or is paused; one that is ending does not count. [rt]
    bool sounds(int sound) const noexcept { return control_.sounds(sound); }
    /// Returns the bus and scope of the newest of those plays, `within` a bus or anywhere; none if there is none. [rt]
    std::optional<Belonging> newest(int sound, int within) noexcept { return control_.newest(sound, within); }
    void stop_loops(double seconds, std::uint64_t by, Frames now) noexcept { control_.stop_loops(seconds, by, now); }

    /// Returns the ended plays that a callback waits for, oldest first, and clears them. [rt]
    std::span<const EndedPlay> ended() const noexcept { return table_.ended_awaited; }
    void forget_ended() noexcept { table_.ended_awaited.clear(); }
    /// Returns true if a callback waits for the end of a play. [rt]
    bool awaited() const noexcept { return table_.awaited > 0 || !table_.ended_awaited.empty(); }

    /// The play of that handle will never start. [rt]
    void forget(Handles::Handle handle, EndReason reason) noexcept { table_.handles.end(handle, reason); }
    /// Returns true if the play was requested, has not started, and may start. [rt]
    bool asked(Handles::Handle handle) const noexcept { return table_.handles.state(handle) == PlayState::asked; }
    /// Applies a call on a play; see PlayControl. `seconds` below 0: as the sound says. [rt]
    void stop_play(Handles::Handle handle, double seconds, const decisions::Record& cause, Frames now,
                   FadeCurve curve = FadeCurve::equal_gain) noexcept {
        control_.stop_play(handle, seconds, curve, cause, now);
    }
    void pause_play(Handles::Handle handle, bool on, const decisions::Record& cause, Frames now) noexcept {
        control_.pause_play(handle, on, cause, now);
    }
    void set_gain(Handles::Handle handle, double decibels, double seconds, const decisions::Record& cause,
                  Frames now) noexcept {
        control_.set_gain(handle, decibels, seconds, cause, now);
    }
    void set_pitch(Handles::Handle handle, double semitones, double seconds, const decisions::Record& cause,
                   Frames now) noexcept {
        control_.slide(handle, &ActivePlay::pitch, semitones, seconds, cause, now);
    }
    void set_pan(Handles::Handle handle, double pan, double seconds, const decisions::Record& cause,
                 Frames now) noexcept {
        control_.slide(handle, &ActivePlay::pan, pan, seconds, cause, now);
    }
    void seek(Handles::Handle handle, double seconds, const decisions::Record& cause, Frames now) noexcept {
        control_.seek(handle, seconds, cause, now);
    }
    void set_own(Handles::Handle handle, model::NameId name, double value, const decisions::Record& cause,
                 Frames now) noexcept {
        control_.set_own(handle, name, value, cause, now);
    }
    /// Sets the value that the follows of a dial use from now on. [rt]
    void set_dial(int dial, double value) noexcept { item(table_.tables.dials, dial) = value; }
    double dial(int dial) const noexcept { return item(table_.tables.dials, dial); }

    /// Continues as if a sound had been played so often and its first layers heard so often. [rt]
    void count_from(int sound, std::uint64_t accepted, std::span<const std::uint64_t> heard) noexcept {
        control_.count_from(sound, accepted, heard);
    }
    std::uint64_t accepted(int sound) const noexcept { return item(table_.tables.sounds, sound).accepted; }
    std::uint64_t heard(int sound, std::size_t layer) const noexcept {
        const auto& heard = item(table_.tables.sounds, sound).heard;
        return layer < heard.size() ? heard[layer] : 0;
    }
    /// Returns the linear gain of a bus, as set last. [rt]
    float bus_gain(int bus) const noexcept { return table_.tables.gains.gain(bus); }
    bool bus_muted(int bus) const noexcept { return table_.tables.gains.muted(bus); }

    /// See PlayMixer::mix. [rt]
    void mix(Frames now, int frames, float* left, float* right) noexcept { mixer_.mix(now, frames, left, right); }
    /// Returns the next frame at which `mix` must stop without a report. [rt]
    Frames next() const noexcept { return table_.tables.ducks.next(); }
    static constexpr int most_frames = PlayTables::most_frames;
    static constexpr std::size_t most_plays(int voices) noexcept { return PlayTable::most_plays(voices); }
    /// Returns the number of plays before their last frame. [rt]
    int sounding() const noexcept { return table_.sounding; }
    /// Returns how many of them never end by themselves: endless or paused, and not stopped. [rt]
    int looping() const noexcept { return table_.looping; }
    /// Return what limits count of voices and streams. [rt]
    int counted_voices() const noexcept { return table_.counted_voices; }
    int counted_streams() const noexcept { return table_.counted_streams; }

  private:
    PlayTable table_;
    Starts starts_;
    Endings endings_;
    PlayLimits limits_;
    PlayControl control_;
    PlayMixer mixer_;
    PlaySwap swap_;
};

} // namespace kiai::mixer
