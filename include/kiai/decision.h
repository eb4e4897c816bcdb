// What the engine did about each trigger, and why.
#pragma once

#include <kiai/report.h>
#include <kiai/units.h>

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// What was decided. `explain` returns the meaning of each; the comments name the members of Decision that belong to
/// it.
enum class Outcome : std::uint8_t {
    played = 0, ///< a play starts
    pending = 1,
    not_ready = 2,
    refused_gap = 3,   ///< see `limit`
    refused_limit = 4, ///< see `limit`
    refused_full = 5,
    stopped = 6, ///< `count` plays
    nothing_to_stop = 7,
    stolen = 8, ///< see `limit` and `other`
    ended = 9,  ///< a play reached its last frame; see `reason`, `level`, `length`
    no_room = 10,
    done = 11,    ///< see `action`
    not_met = 12, ///< `rule` is false; `value` is what it was
    scope_off = 13,
    scope_paused = 14,
    lost = 15,
    no_end = 16,
    too_deep = 17,
    over = 18,
    no_zone = 19,
    no_binding = 20,
    same_state = 21,
    unended = 22,
    unknown_name = 23,
    unknown_value = 24,
    stream_late = 25,
    bad_number = 26,
    out_of_range = 27,
    late = 28,
    calendar_full = 29,
    names_full = 30,  ///< `count` calls
    ring_full = 31,   ///< `count` calls
    ducked = 32,      ///< `bus` under `under`, by `value` dB
    duck_over = 33,   ///< `bus` under `under`
    insert_off = 34,  ///< `rule` is the reason
    insert_slow = 35, ///< `value` is the share of the block time
    mix_lost = 36,    ///< `count` frames
    changed = 37,
    log_full = 38, ///< `count` decisions
    last = log_full,
};
/// Returns the word that logs use: `refused-gap`.
const char* to_string(Outcome outcome) noexcept;
/// Returns a sentence or two that explain the decision.
const char* explain(Outcome outcome) noexcept;

/// What an action does, spelt as in kiai.toml.
enum class Verb : std::uint8_t {
    play = 0,
    hold = 1, ///< plays for as long as the trigger lasts
    toggle = 2,
    restart = 3,
    stop = 4,
    pause = 5,
    resume = 6,
    set = 7,
    mute = 8,
    unmute = 9,
    notice = 10,
    run = 11,
    nothing = 12,
};
const char* to_string(Verb verb) noexcept;

/// An action that a binding or a sequence carried out. A plain value.
struct ActionTaken {
    Verb verb = Verb::nothing;
    ActionTarget target = ActionTarget::none;
    std::string name;  ///< of the target; empty for `none` and `everything`
    double number = 0; ///< set: the new value of the dial, or the new gain in dB; otherwise 0
};
/// Returns the action as kiai.toml would say it: `play oak`, `set dial fill to 0`, `stop everything`.
std::string to_string(const ActionTaken& action);

/// What a limit does when it is full, spelt as in kiai.toml.
enum class WhenFull : std::uint8_t {
    end_oldest = 0,
    end_quietest = 1,
    refuse = 2,
    restart = 3,
    stronger_contact = 4, ///< not a setting: of several contacts at one frame, the strongest replaced a weaker one
};
const char* to_string(WhenFull full) noexcept;

/// The limit that refused or stole a play. A plain value.
struct LimitReached {
    enum class Kind : std::uint8_t {
        gap = 0,    ///< the minimum time between two starts of a sound; `measured` and `allowed` are seconds
        sound = 1,  ///< the plays of a sound
        bus = 2,    ///< the plays on a bus
        engine = 3, ///< the voices of the engine; `measured` and `allowed` are 0
    };
    Kind kind = Kind::sound;
    std::string name; ///< of the sound or bus; empty for the engine
    WhenFull full = WhenFull::end_oldest;
    double measured = 0; ///< gap: the time since the last start; otherwise the number of plays
    double allowed = 0;  ///< gap: the minimum; otherwise the maximum, 0 if there is none
};
const char* to_string(LimitReached::Kind kind) noexcept;
/// Returns `sound oak`, `bus pieces`, `gap` or `engine`.
std::string to_string(const LimitReached& limit);

/// How a play ended, or why it never started.
enum class EndReason : std::uint8_t {
    none = 0, ///< the play has not ended, or the engine no longer knows
    finished = 1,
    stopped = 2,
    stolen = 3,
    scope_left = 4,
    changed = 5,      ///< the project was replaced: the sound was removed, or plays again as a new play
    refused = 6,      ///< by a gap or a limit, or because no voice or stream was free; the log says which
    unknown_name = 7, ///< the project has no sound, clip or scope of that name
    pending = 8,      ///< the sound is declared and has no takes yet
    not_ready = 9,    ///< the sound's clips belong to a scope that was not loaded
    scope_off = 10,   ///< the scope of the play is off or paused
    bad_number = 11,  ///< a number of the call was NaN or infinite
    lost = 12,        ///< the engine had no room for the call; see EngineSettings::reports
    engine_gone = 13,
    last = engine_gone,
};
const char* to_string(EndReason reason) noexcept;

/// The state of a play.
enum class PlayState : std::uint8_t {
    ended = 0, ///< also: refused, or no play
    asked = 1, ///< not started yet
    playing = 2,
    fading = 3, ///< stopped or stolen, and still heard: during its fade, or the rest of its loop
    paused = 4,
};
const char* to_string(PlayState state) noexcept;

/// The clip that a layer of a play picked, and how it plays.
struct LayerTake {
    int layer = 1;     ///< number of the layer in its sound, from 1
    std::string label; ///< of the layer; empty if it has none
    std::string clip;
    /// The constant part: sound, layer, buses, variation, follows of the trigger, and the call. Dials, LFOs and values
    /// of the play add to it while the play is heard.
    Semitones pitch = 0;
    Decibels gain = 0; ///< the constant part, as for the pitch
    Pan pan = 0;
    int number = 1;   ///< number of the take, from 1, in the order of kiai.toml
    int of = 1;       ///< number of takes
    Frames delay = 0; ///< after the start of the play
};

/// One decision. A plain value with all names filled in.
struct Decision {
    Frames frame = 0;        ///< on the engine's clock, before the output's latency
    int sample_rate = 48000; ///< frames per second of the engine
    Outcome outcome = Outcome::played;
    std::uint64_t cause = 0; ///< number of the event that it answers, from 1; 0: none
    std::uint64_t from = 0;  ///< number of the event that caused that event; 0: a report of the app, or the clock
    ReportKind trigger = ReportKind::notice; ///< the kind of the event
    std::optional<ActionTaken> action;       ///< done, stopped …: what the binding or sequence did
    std::string on;                          ///< zone, key code, `oak+marble`, notice, or the name that the app gave
    Point point;                             ///< press: its position
    bool paired = false; ///< contact: its end will be reported, by a pair number or by measured bodies
    int binding = 0;     ///< number of the binding in kiai.toml, from 1; 0: none
    std::string sound;
    std::uint32_t play = 0;            ///< number of the play in this engine, from 1; 0: none
    std::uint32_t other = 0;           ///< stolen: the play that replaced it
    std::optional<LimitReached> limit; ///< stolen, refused_limit, refused_gap
    std::string rule;      ///< not_met: the condition as kiai.toml has it: `fill > 0.8`, `once`; insert_off: the reason
    bool excluded = false; ///< unknown_name: kiai.toml has the entry, but an error disables it
    /// not_met: the left side of the condition, NaN if it has none; bus_gain, play_gain: dB; bus_mute: 1 or 0;
    /// play_pitch: semitones; play_pan, play_set: the new value; play_seek: seconds; ducked: dB, below 0;
    /// insert_slow: the share of the block time
    float value = 0;
    std::string bus;               ///< ducked, duck_over, insert_off, insert_slow: the bus
    std::string under;             ///< ducked, duck_over: the bus that it is ducked under
    std::vector<LayerTake> layers; ///< played
    EndReason reason = EndReason::none;
    std::uint64_t ended_by = 0; ///< ended early: number of the event that ended it
    Decibels level = 0;         ///< ended: peak of what was mixed, after gain and pan, in dBFS (-200 for silence)
    Frames length = 0;          ///< ended: from the first frame to the last
    Frames counted = 0;         ///< ended: from the first frame to the one at which it was stopped or stolen
    std::uint64_t count = 0;    ///< stopped, done: number of plays; ring_full, log_full, mix_lost: how many were lost
    std::string nearest;        ///< unknown_name, unknown_value, no_binding: the nearest known name, or empty
};

/// The level of one layer of a play over 64 frames.
struct PlayLevel {
    std::uint32_t play = 0;
    std::uint32_t layer = 0;
    Frames frame = 0; ///< the first of the 64, a multiple of 64
    float peak = 0;   ///< largest magnitude of either side after gain and pan; linear, 1 is full scale
};

/// Returns one line for people, without the time: `press hopper: played hopper #1, hopper-open +0.30 st -1.20 dB …`.
std::string describe(const Decision& decision);
/// Returns the part of `describe` after the trigger: `played oak #12 …`. [any]
std::string describe_outcome(const Decision& decision);

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/decision.h>
#endif
