// What an app reports, as a value: each call of the engine that reports something makes one of these, and so does each
// line of a trace.
#pragma once

#include <kiai/name.h>
#include <kiai/units.h>

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// A place in the app's own units, the ones in which kiai.toml gives its zones.
struct Point {
    float x = 0;
    float y = 0;
};

/// How two bodies touched.
struct Contact {
    float strength = 1;     ///< from 0, any number; 1 is what the curves in kiai.toml call full
    float place = 0;        ///< -1 (left) … 1 (right)
    std::uint64_t pair = 0; ///< which touch this is, a number of the app's own: until `contact_end` of it, it is one
                            ///< touch; 0: each call is a touch, and only gaps thin them
};

/// What an action or a call is about.
enum class ActionTarget : std::uint8_t {
    none = 0,
    sound = 1,
    bus = 2,
    scope = 3,
    sequence = 4,
    everything = 5,
    dial = 6,
    notice = 7
};
const char* to_string(ActionTarget target) noexcept;

/// What a call of the app stops, pauses, resumes or restarts: a sound by its name, or what one of the functions gives.
/// A plain value; its name has to live until the call returns.
struct Target {
    ActionTarget kind = ActionTarget::sound;
    AnyName name; ///< empty for `everything`

    template<class Sound>
    requires std::is_convertible_v<const Sound&, SoundName> Target(const Sound& sound) : name(SoundName(sound)) {}
    /// All plays on a bus, and on those that go into it.
    static Target bus(BusName name) { return {ActionTarget::bus, name}; }
    /// What belongs to a scope. To pause a scope also pauses its timers and sequences.
    static Target scope(ScopeName name) { return {ActionTarget::scope, name}; }
    /// All runs of a sequence, with the plays that they started.
    static Target sequence(SequenceName name) { return {ActionTarget::sequence, name}; }
    /// All plays and sequences.
    static Target everything() { return {ActionTarget::everything, {}}; }

  private:
    Target(ActionTarget of, AnyName called) : kind(of), name(called) {}
};

/// A number that goes with a notice, by name.
struct NamedValue {
    std::string name;
    float value = 0;
};

/// How the gain moves in a fade.
enum class FadeCurve : std::uint8_t {
    equal_gain = 0, ///< a raised cosine: the gains of what fades out and what fades in add up to 1; for like sounds
    equal_power = 1 ///< the powers add up to 1, and both begin and end without a bend; for unlike sounds
};
const char* to_string(FadeCurve curve) noexcept;

/// How a play that the app asks for itself differs from what kiai.toml says; gain, pitch and pan are added to those
/// there.
struct PlayOptions {
    Decibels gain = 0;            ///< -120 … 24 dB
    Semitones pitch = 0;          ///< -48 … 48 semitones
    Pan pan = 0;                  ///< -1 … 1
    float strength = 1;           ///< for follows of `strength`, from 0
    float place = 0;              ///< for follows of `place`, -1 … 1
    int layer = 0;                ///< 0: all layers; else only this one, from 1, to hear what it does
    Seconds delay = Seconds(0);   ///< how long after the call it begins, 0 … 3600
    Seconds fade_in = Seconds(0); ///< how long it rises, 0 … 3600; the longer of this and the sound's own counts
    Seconds start = Seconds(0);   ///< where in its clips it begins, on top of kiai.toml's, 0 … 3600
    Seconds length = Seconds(0);  ///< it is told to stop after this time, 0 … 3600; 0: it is not
    /// How often each layer loops, 1 … 1000000, or 0 for without end; a layer without a loop repeats its whole clip.
    /// Default: as kiai.toml says.
    std::optional<int> loop = std::nullopt;
    BusName bus = {}; ///< the bus that it plays on; empty: its sound's. It has to live until the call returns
    std::optional<Frames> at = std::nullopt; ///< the frame of the engine's clock at which it begins; default: at once
};

/// What can happen. From `enter` on it is nothing that an app reports: the engine finds it out.
enum class ReportKind : std::uint8_t {
    press = 0,
    release = 1,
    pointer = 2,      ///< moved to `point`
    pointer_gone = 3, ///< is nowhere any more
    key_down = 4,
    key_up = 5,
    contact = 6,
    contact_end = 7,
    playhead = 8, ///< of the motion `name`, at `value`, in its frames
    playhead_gone = 9,
    body = 10, ///< number `pair`, of kind `name`, is at `point`
    body_gone = 11,
    notice = 12,
    dial = 13,
    scope_enter = 14,
    scope_leave = 15,
    scope_pause = 16,
    scope_resume = 17,
    zone = 18,      ///< is moved so that its middle is at `point`, `value` times as large as in kiai.toml
    zone_gone = 19, ///< is taken away until `zone` puts it somewhere
    input_lost = 20,
    play = 21,
    stop = 22,
    toggle = 23,
    pause = 24,
    resume = 25,
    restart = 26,
    crossfade = 27, ///< `from` ends while `name` begins
    run = 28,
    bus_gain = 29,   ///< of the bus `name`, `value` dB
    bus_mute = 30,   ///< `value` not 0: on
    play_stop = 31,  ///< the play that was asked for with this `pair`; `over` below 0: in its own way, else the fade
    play_gain = 32,  ///< likewise; `value` dB, in the time `over`
    play_pitch = 33, ///< likewise; `value` semitones
    play_pan = 34,   ///< likewise; `value` -1 … 1
    play_set = 35,   ///< likewise; `name` of its value, `value`
    play_pause = 36,
    play_resume = 37,
    play_seek = 38, ///< likewise; `options.start`: where to
    wind_down = 39, ///< `over`: the fade
    counted = 40,   ///< in recordings: how often the sound `name` has played, or the binding number `pair` has answered
    enter = 41,
    leave = 42,
    marker = 43,
    watch = 44,
    start = 45,
    after = 46,
    every = 47,
    ended = 48,
    project = 49, ///< the project was changed; `name`: see Project::fingerprint
    last = project,
};

/// The word for it in traces and logs: `press`, `key-down`, …
const char* to_string(ReportKind kind) noexcept;

/// One report. Only the members that its kind names are read.
struct Report {
    ReportKind kind = ReportKind::notice;
    std::string name;  ///< what it is about: key code, notice, sound, dial, scope, … or the first body's kind
    std::string other; ///< contact: the second body's kind; play: the scope that the play is to belong to
    Point point;       ///< press, pointer, zone
    /// press, release, pointer, pointer_gone: which pointer, any number; playhead: which of that motion, 0 … 15
    std::uint64_t pointer = 0;
    PlayOptions options; ///< play; of a contact, strength and place
    float value = 0;     ///< dial, playhead, zone, bus_gain, bus_mute; counted: how often
    std::uint64_t pair =
        0;           ///< contact, contact_end: which touch; play: a number by which play_stop and its like mean it
    Point size = {}; ///< body: width and height of a box; both 0: a circle, `value` is its radius
    std::vector<NamedValue> values = {}; ///< notice: four at most; counted: how often each layer was heard
    Seconds over = Seconds(0.01);        ///< bus_gain, play_gain, play_pitch, play_pan: how long it takes; play_stop
    /// pause, resume, restart, stop: what `name` is the name of; crossfade: what `from` is the name of
    ActionTarget target = ActionTarget::sound;
    Seconds fade = Seconds(-1); ///< stop: below 0: as each sound says; crossfade
    std::string bus = {};       ///< play, crossfade: as PlayOptions::bus, which is not read here
    std::string from = {};      ///< crossfade: what ends; empty, with `from_pair`: that play
    std::uint64_t from_pair = 0;
    /// body: when it was there, on any clock of the app's; default: the frame that it is reported for, else the moment
    /// of the call
    std::optional<Seconds> moment = std::nullopt;
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/report.h>
#endif
