// What the engine did about each trigger, and why.
#pragma once

#include <kiai/report.h>
#include <kiai/units.h>

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// What was decided. The text after each is how `to_string` and the log spell it.
enum class Outcome : std::uint8_t {
    played = 0,      ///< `played`: a play of the sound begins at this frame
    pending = 1,     ///< `pending`: the sound is declared, and has nothing to play yet
    not_ready = 2,   ///< `not-ready`: the sound's clips belong to a scope that was not loaded
    refused_gap = 3, ///< `refused-gap`: the last start of this sound is less than its least gap ago
    refused_limit =
        4,            ///< `refused-limit`: as many plays sound already as `limit` allows, and none can be stolen for it
    refused_full = 5, ///< `refused-full`: the engine has no voice or stream for it, and all that sounds is more audible
    stopped = 6,      ///< `stopped`: plays of the sound were told to end
    nothing_to_stop = 7, ///< `nothing-to-stop`: a stop came while no play of the sound was sounding
    stolen = 8,          ///< `stolen`: this play is ended early in favour of another, or of a limit that was lowered
    ended = 9,           ///< `ended`: a play has come to its last frame; `reason`, `level` and `length` tell how
    no_room = 10,        ///< `no-room`: more of them than the engine keeps at once: bodies, contacts, keys, branches
    done = 11,           ///< `done`: an action that begins or ends no play; `action` says which
    not_met = 12,      ///< `not-met`: a condition of the binding does not hold; `rule` says which, `value` what it was
    scope_off = 13,    ///< `scope-off`: all that is bound to it belongs to scopes that are off
    scope_paused = 14, ///< `scope-paused`: the binding's scope is paused
    lost = 15,         ///< `lost`: a press, key, stay or touch ended since the input was lost, or its zone is gone
    no_end = 16,       ///< `no-end`: nothing would end what is to be held: the contact has no `pair`
    too_deep = 17,     ///< `too-deep`: notices or sequences cause each other without end; the rest is cancelled
    over = 18,         ///< `over`: a watch has turned false, or a sequence has come to its end
    no_zone = 19,      ///< `no-zone`: the press was in no zone
    no_binding = 20,   ///< `no-binding`: nothing is bound to this trigger
    same_state = 21,   ///< `same-state`: reported again while still so (a key held down); said once until it changes
    unended = 22, ///< `unended`: pressed again, and the end of the last press was never reported; a mistake in the app
    unknown_name = 23,  ///< `unknown-name`: no sound, clip or dial has the name; a mistake in the app
    unknown_value = 24, ///< `unknown-value`: no follow of that sound has a value of that name; a mistake in the app
    stream_late = 25,   ///< `stream-late`: a long clip was not read fast enough, and fades out until it is
    bad_number = 26,    ///< `bad-number`: NaN or infinite, so the report was left out; a mistake in the app
    out_of_range = 27,  ///< `out-of-range`: the nearest number in the range was used; a mistake in the app
    late = 28,          ///< `late`: the report named a frame that had passed; it was served at once
    calendar_full = 29, ///< `calendar-full`: too many reports wait for a later frame already, so this one was lost
    names_full = 30,  ///< `names-full`: the app has made up more names than the engine keeps; `count` reports were lost
    ring_full = 31,   ///< `ring-full`: reports were lost since too many came between two blocks; `count` says how many
    ducked = 32,      ///< `ducked`: `bus` gets quieter, or less so than before, while the bus `under` sounds
    duck_over = 33,   ///< `duck-over`: no bus that `bus` is ducked under sounds any longer
    insert_off = 34,  ///< `insert-off`: the insert of `bus` is bypassed from here on; `rule` tells why
    insert_slow = 35, ///< `insert-slow`: the insert of `bus` takes so long that blocks may be late; `value`: its share
    mix_lost = 36,    ///< `mix-lost`: nobody polled in time, so `count` frames of the finished mix were not handed on
    changed = 37,     ///< `changed`: from here on the project is another; what follows is about that one
    log_full = 38,    ///< `log-full`: decisions were lost since nobody read them; `count` says how many
};
const char* to_string(Outcome outcome) noexcept;

/// What an action does.
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

/// What a binding or a sequence did. A plain value.
struct ActionTaken {
    Verb verb = Verb::nothing;
    ActionTarget target = ActionTarget::none;
    std::string name;  ///< of the target; empty for `none` and `everything`
    double number = 0; ///< set: what a dial becomes, or a gain in dB; else 0
};
/// `play oak`, `set dial fill to 0`, `stop everything`.
std::string to_string(const ActionTaken& action);

/// What a limit does when it is full. Each spelt as in kiai.toml.
enum class WhenFull : std::uint8_t {
    end_oldest = 0,
    end_quietest = 1,
    refuse = 2,
    restart = 3,
    stronger_contact = 4, ///< no setting: of contacts at one frame, a stronger one took the place of a weaker one
};
const char* to_string(WhenFull full) noexcept;

/// The limit that refused a play or stole one. A plain value.
struct LimitReached {
    enum class Kind : std::uint8_t {
        gap = 0,    ///< the least time between two starts of a sound; `measured` and `allowed` are seconds
        sound = 1,  ///< the plays of a sound
        bus = 2,    ///< the plays on a bus
        engine = 3, ///< the voices of the engine; `measured` and `allowed` are 0
    };
    Kind kind = Kind::sound;
    std::string name; ///< of the sound or bus; empty for the engine
    WhenFull full = WhenFull::end_oldest;
    double measured = 0; ///< gap: since the last start; else how many plays counted
    double allowed = 0;  ///< gap: the minimum; else the maximum, 0 if there is none
};
const char* to_string(LimitReached::Kind kind) noexcept;
/// `sound oak`, `bus pieces`, `gap`, `engine`.
std::string to_string(const LimitReached& limit);

/// How a play ended, or why it never began.
enum class EndReason : std::uint8_t {
    none = 0, ///< it has not ended, or that is not known any more
    finished = 1,
    stopped = 2,
    stolen = 3,
    scope_left = 4,
    changed = 5,      ///< the project was changed: its sound is gone from it, or plays anew
    refused = 6,      ///< by a gap, a limit, or because the engine had no voice or stream for it; the log says which
    unknown_name = 7, ///< no sound of the project has the name that was asked for, or no scope
    pending = 8,      ///< the sound is declared, and has nothing to play yet
    not_ready = 9,    ///< the sound's clips belong to a scope that was not loaded
    scope_off = 10,   ///< the scope that the play was to belong to is off or paused
    bad_number = 11,  ///< a number of the call was not finite
    lost = 12,        ///< the engine had no room for the call; see EngineSettings::reports
    engine_gone = 13,
    last = engine_gone,
};
const char* to_string(EndReason reason) noexcept;

/// Where a play is in its life.
enum class PlayState : std::uint8_t {
    ended = 0, ///< or refused, or there never was one
    asked = 1, ///< not begun yet
    playing = 2,
    fading = 3, ///< told to end: with a fade, or with what is left of its loop
    paused = 4,
};
const char* to_string(PlayState state) noexcept;

/// What one layer of a play was made of.
struct LayerTake {
    int layer = 1;     ///< the n-th of its sound, from 1
    std::string label; ///< of the layer, empty where it has none
    std::string clip;
    /// All that stands still of it: sound, layer, buses, spreads, follows of the trigger, and the call. What dials,
    /// values of the play and LFOs add changes while it sounds, and is not in it.
    Semitones pitch = 0;
    Decibels gain = 0; ///< likewise
    Pan pan = 0;
    int number = 1;   ///< which take this is, from 1, in the order of kiai.toml
    int of = 1;       ///< of how many takes
    Frames delay = 0; ///< after the play's begin
};

/// One decision. A plain value with all names filled in.
struct Decision {
    Frames frame = 0; ///< on the engine's clock, before the output's latency
    Outcome outcome = Outcome::played;
    std::uint64_t cause = 0;                 ///< what it answers: the n-th thing that happened, from 1; 0: nothing
    std::uint64_t from = 0;                  ///< what that was caused by in turn; 0: a report of the app, or the time
    ReportKind trigger = ReportKind::notice; ///< of what happened
    std::optional<ActionTaken> action;       ///< done, stopped …: what the binding or sequence did
    std::string on;                          ///< zone, key code, `oak+marble`, notice, or the name that the app gave
    Point point;                             ///< press: where
    bool paired = false; ///< contact: its end will be known, by a pair number or since it was measured from bodies
    int binding = 0;     ///< the n-th binding of kiai.toml, from 1; 0: none
    std::string sound;
    std::uint32_t play = 0;            ///< the n-th play of this engine, from 1; 0: none
    std::uint32_t other = 0;           ///< stolen: the play in favour of which
    std::optional<LimitReached> limit; ///< stolen, refused_limit, refused_gap
    std::string rule;      ///< not_met: which condition, as it is written: `fill > 0.8`, `once`; insert_off: why
    bool excluded = false; ///< unknown_name: kiai.toml has it, but an error keeps it out
    /// not_met: what the left side of the rule was, NaN if it has none; bus_gain, play_gain: dB; bus_mute: 1 or 0;
    /// play_pitch: semitones; play_pan, play_set: what it becomes; play_seek: seconds; ducked: dB, below 0;
    /// insert_slow: the time that it takes, as a part of the time that its frames last
    float value = 0;
    std::string bus;               ///< ducked, duck_over, insert_off, insert_slow: which bus
    std::string under;             ///< ducked, duck_over: the bus that it is or was ducked under
    std::vector<LayerTake> layers; ///< played
    EndReason reason = EndReason::none;
    std::uint64_t ended_by = 0; ///< ended early: by what, counted like `cause`
    Decibels level = 0;         ///< ended: peak of what was mixed, after gain and pan, in dBFS (-200 for silence)
    Frames length = 0;          ///< ended: from its first frame to its last
    Frames counted = 0;         ///< ended: from its first frame to the one at which it was told to end
    std::uint64_t count = 0;    ///< stopped, done: how many plays; ring_full, log_full, mix_lost: how many were lost
    std::string nearest;        ///< unknown_name, unknown_value, no_binding: the nearest name there is, or empty
};

/// How loud one layer of a play was over 64 frames of the clock.
struct PlayLevel {
    std::uint32_t play = 0;
    std::uint32_t layer = 0;
    Frames frame = 0; ///< the first of the 64, a multiple of 64
    float peak = 0;   ///< largest magnitude of either side after gain and pan; linear, 1 is full scale
};

/// One line for people, without the time: `press hopper: played hopper, hopper-open +0.3 st -1.2 dB …`.
std::string describe(const Decision& decision);
/// The part of it after the trigger: `played oak #12 …`. [any]
std::string describe_outcome(const Decision& decision);

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/decision.h>
#endif
