// What an app reports, as a value. Each reporting call of the engine makes one, and so does each line of a trace.
#pragma once

#include <kiai/name.h>
#include <kiai/units.h>

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// A position in the app's own units, the units of the zones in kiai.toml.
struct Point {
    float x = 0;
    float y = 0;
};

/// How two bodies touch.
struct Contact {
    float strength = 1;     ///< from 0; 1 is full strength, the end of the usual curves in kiai.toml
    float place = 0;        ///< -1 (left) … 1 (right)
    std::uint64_t pair = 0; ///< a number that the app chose for this contact: all calls until its `contact_end` are
                            ///< one contact; 0: each call is a contact of its own
};

/// The kind of thing that an action or a call applies to.
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

/// What a call stops, pauses, resumes or restarts: a sound by its name, or the result of one of the functions below. A
/// plain value. Its name must live until the call returns.
struct Target {
    ActionTarget kind = ActionTarget::sound;
    AnyName name; ///< empty for `everything`

    template<class Sound>
    requires std::is_convertible_v<const Sound&, SoundName> Target(const Sound& sound) : name(SoundName(sound)) {}
    /// All plays on a bus and on the buses below it.
    static Target bus(BusName name) { return {ActionTarget::bus, name}; }
    /// Everything that belongs to a scope. To pause a scope also pauses its timers and sequences.
    static Target scope(ScopeName name) { return {ActionTarget::scope, name}; }
    /// All runs of a sequence, with the plays that they started.
    static Target sequence(SequenceName name) { return {ActionTarget::sequence, name}; }
    /// All plays and sequences.
    static Target everything() { return {ActionTarget::everything, {}}; }

  private:
    Target(ActionTarget of, AnyName called) : kind(of), name(called) {}
};

/// A named number of a notice.
struct NamedValue {
    std::string name;
    float value = 0;
};

/// The curve of a fade.
enum class FadeCurve : std::uint8_t {
    equal_gain = 0, ///< a raised cosine: both gains of a crossfade add up to 1; for similar sounds
    equal_power = 1 ///< both powers add up to 1; for different sounds
};
const char* to_string(FadeCurve curve) noexcept;

/// How a play that the app starts differs from kiai.toml. Gain, pitch and pan are added to those in kiai.toml.
struct PlayOptions {
    Decibels gain = 0;            ///< -120 … 24 dB
    Semitones pitch = 0;          ///< -48 … 48 semitones
    Pan pan = 0;                  ///< -1 … 1
    float strength = 1;           ///< for follows of `strength`, from 0
    float place = 0;              ///< for follows of `place`, -1 … 1
    int layer = 0;                ///< 0: all layers; otherwise only the layer with this number, from 1
    Seconds delay = Seconds(0);   ///< time between the call and the start, 0 … 3600
    Seconds fade_in = Seconds(0); ///< 0 … 3600; the longer of this and the fade-in of the sound counts
    Seconds start = Seconds(0);   ///< position in the clips, added to the start in kiai.toml, 0 … 3600
    Seconds length = Seconds(0);  ///< stops the play after this time, 0 … 3600; 0: no limit
    /// Turns of the loop of each layer, 1 … 1000000; 0: endless. A layer without a loop repeats its whole clip.
    /// Default: the turns in kiai.toml.
    std::optional<int> loop = std::nullopt;
    BusName bus = {}; ///< the bus of the play; empty: the bus of its sound. The name must live until the call returns
    std::optional<Frames> at = std::nullopt; ///< start at this frame of the engine's clock; default: at once
};

/// Everything that can happen. The app reports the kinds before `enter`; the engine finds out the others.
enum class ReportKind : std::uint8_t {
    press = 0,
    release = 1,
    pointer = 2,      ///< is at `point`
    pointer_gone = 3, ///< left the window
    key_down = 4,
    key_up = 5,
    contact = 6,
    contact_end = 7,
    playhead = 8, ///< the motion `name` is at its frame `value`
    playhead_gone = 9,
    body = 10, ///< body number `pair`, of kind `name`, is at `point`
    body_gone = 11,
    notice = 12,
    dial = 13,
    scope_enter = 14,
    scope_leave = 15,
    scope_pause = 16,
    scope_resume = 17,
    zone = 18,      ///< the middle moves to `point`; `value` is the scale relative to kiai.toml
    zone_gone = 19, ///< removed until the next `zone`
    input_lost = 20,
    play = 21,
    stop = 22,
    toggle = 23,
    pause = 24,
    resume = 25,
    restart = 26,
    crossfade = 27, ///< `from` fades out while `name` fades in
    run = 28,
    bus_gain = 29,   ///< bus `name`, `value` dB
    bus_mute = 30,   ///< bus `name`; `value` other than 0: muted
    play_stop = 31,  ///< the play that was started with this `pair`; `over`: the fade, below 0: as its sound says
    play_gain = 32,  ///< of that play: `value` dB, in the time `over`
    play_pitch = 33, ///< of that play: `value` semitones
    play_pan = 34,   ///< of that play: `value` -1 … 1
    play_set = 35,   ///< of that play: its value `name` becomes `value`
    play_pause = 36,
    play_resume = 37,
    play_seek = 38, ///< of that play: `options.start` is the new position
    wind_down = 39, ///< `over`: the fade
    counted = 40,   ///< in recordings: how often the sound `name` played, or the binding number `pair` answered
    enter = 41,
    leave = 42,
    marker = 43,
    watch = 44,
    start = 45,
    after = 46,
    every = 47,
    ended = 48,
    project = 49, ///< the project was replaced; `name`: see Project::fingerprint
    last = project,
};

/// Returns the word in traces and logs: `press`, `key-down`, …
const char* to_string(ReportKind kind) noexcept;

/// One report. Only the members that belong to its kind are read.
struct Report {
    ReportKind kind = ReportKind::notice;
    std::string name;  ///< key code, notice, sound, dial, scope, …, or the kind of the first body
    std::string other; ///< contact: the kind of the second body; play: the scope of the play
    Point point;       ///< press, pointer, zone
    /// press, release, pointer, pointer_gone: number of the pointer; playhead: number of the playhead, 0 … 15
    std::uint64_t pointer = 0;
    PlayOptions options;    ///< play; contact: strength and place
    float value = 0;        ///< dial, playhead, zone, bus_gain, bus_mute; counted: the count
    std::uint64_t pair = 0; ///< contact, contact_end: pair number; play: a number for later play_stop, play_gain …
    Point size = {};        ///< body: width and height of a box; both 0: a circle, `value` is its radius
    std::vector<NamedValue> values = {}; ///< notice: at most four; counted: the count of each layer
    Seconds over = Seconds(0.01);        ///< bus_gain, play_gain, play_pitch, play_pan, play_stop
    /// pause, resume, restart, stop: the kind of `name`; crossfade: the kind of `from`
    ActionTarget target = ActionTarget::sound;
    Seconds fade = Seconds(-1); ///< stop, crossfade; below 0: as each sound says
    std::string bus = {};       ///< play, crossfade: the bus; PlayOptions::bus is not read here
    std::string from = {};      ///< crossfade: what fades out; empty: the play with the number `from_pair`
    std::uint64_t from_pair = 0;
    /// body: when it was there, on any clock of the app; default: the frame of the report, or the moment of the call
    std::optional<Seconds> moment = std::nullopt;
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/report.h>
#endif
