// The engine: receives what the app reports, decides what plays, and renders it.
#pragma once

#include <kiai/decision.h>
#include <kiai/finding.h>
#include <kiai/insert.h>
#include <kiai/levels.h>
#include <kiai/name.h>
#include <kiai/play.h>
#include <kiai/project.h>
#include <kiai/report.h>
#include <kiai/state.h>
#include <kiai/trace.h>
#include <kiai/units.h>

#include <chrono>
#include <cstdint>
#include <functional>
#include <initializer_list>
#include <memory>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace kiai::inline v0 {

/// Settings of an engine. A value out of its range is clamped.
struct EngineSettings {
    int sample_rate = 48000; ///< frames per second of the output, 8000 … 192000
    std::optional<std::uint64_t> seed =
        std::nullopt;   ///< of all random choices; default: a random one, see Engine::seed
    int voices = 256;   ///< layers that can be heard at once, 1 … 65536; beyond it the least audible plays are stolen
    int reports = 2048; ///< calls that can wait for the next block, 16 … 1048576, rounded up to a power of two
    int streams = 16;   ///< long clips that can be read from the disk at once, 0 … 256
    bool synchronous_streams = false; ///< `render` reads streamed clips itself and waits for the disk: for offline use
    bool portable_kernels = false;    ///< use the portable kernels, whose output is the same on every processor
    bool decide_only = false;   ///< decide, but mix nothing: silence, no levels, the same decisions, many times faster
    bool record_levels = false; ///< keep the level of every play per 64 frames for Engine::read_levels
};

/// Plays one project. A program can have several engines. The calls that report something are [any] thread; they return
/// at once, never block, and take effect in `render`. The app must not destroy an engine during a call.
class Engine {
  public:
    /// Allocates all memory that the engine needs. [control]
    explicit Engine(Project project, const EngineSettings& settings = {});
    ~Engine();
    Engine(Engine&&) noexcept;
    Engine& operator=(Engine&&) noexcept;

    // --- what the app reports --- [any]

    /// Reports that a pointer is pressed. The front zone at `point` receives the press until `release`.
    /// No effect if the pointer is already pressed, so the app may report it every frame.
    /// `pointer`: any number, one per finger; the engine keeps 32.
    void press(Point point, std::uint64_t pointer = 0);
    /// Reports that a pointer was released, at any position.
    void release(std::uint64_t pointer = 0);
    /// Reports that a key is down. `code`: its W3C UI Events code, such as `Space`, `KeyT`, `ArrowLeft`.
    /// No effect if the key is already down, so the app may pass on repeats of the keyboard.
    void key_down(std::string_view code);
    /// Reports that a key was released.
    void key_up(std::string_view code);
    /// Reports a press and its release, for an app that only knows whole clicks.
    void click(Point point, std::uint64_t pointer = 0);
    /// Reports a key and its release.
    void key_tap(std::string_view code);
    /// Reports where a pointer is, pressed or not. The pointer enters and leaves zones. May be called every frame.
    void pointer(Point point, std::uint64_t pointer = 0);
    /// Reports that a pointer left the window, or that a finger was lifted.
    void pointer_gone(std::uint64_t pointer = 0);
    /// Reports that two bodies touch. The order of the kinds does not matter.
    /// With Contact::pair the app may report the contact every frame, until `contact_end`.
    void contact(ContactName kind, ContactName other, Contact touch = {});
    /// Reports that the contact with that pair number ended.
    void contact_end(std::uint64_t pair);
    /// Reports the position of a body. Kiai then detects the contacts itself. May be called every frame.
    /// The strength of a contact is the speed at which the two bodies approached, in the app's units per second.
    /// `number`: chosen by the app, above 0; at most 512 bodies. `radius`: from 0.
    /// `moment`: when the body was there, on any clock of the app (default: the moment of the call).
    void body(std::uint64_t number, ContactName kind, Point middle, float radius,
              std::optional<Seconds> moment = std::nullopt);
    /// Reports the position of an upright box; otherwise the same as `body`.
    void body_box(std::uint64_t number, ContactName kind, Point middle, Point size,
                  std::optional<Seconds> moment = std::nullopt);
    /// Removes a body; its contacts end.
    void body_gone(std::uint64_t number);
    /// Reports a script event, with up to four values for conditions and follows.
    void notice(NoticeName name, std::span<const NamedValue> values = {});
    void notice(NoticeName name, std::initializer_list<NamedValue> values) {
        notice(name, std::span(values.begin(), values.size()));
    }
    /// Reports the frame that an animation is at, in frames of the motion. A frame beyond the length wraps around.
    /// `playhead`: 0 … 15, if the same motion runs several times at once.
    void playhead(MotionName motion, float frame, int playhead = 0);
    /// The same as the call above, in seconds at the frame rate of the motion.
    void playhead(MotionName motion, Seconds at, int playhead = 0);
    /// Removes the playhead. Its next report counts as its first.
    void playhead_gone(MotionName motion, int playhead = 0);
    /// Sets a dial (parameter), clamped to its range. Follows move smoothly to the new value; watches are evaluated.
    void set_dial(DialName name, float value);
    /// Enters a scope. No effect if the scope is on.
    void enter_scope(ScopeName name);
    /// Leaves a scope, and ends everything that belongs to it. No effect if the scope is off.
    void leave_scope(ScopeName name);
    /// Pauses a scope: its plays, timers and sequences. No effect if the scope is off or paused.
    void pause_scope(ScopeName name);
    /// Resumes a paused scope.
    void resume_scope(ScopeName name);
    /// Moves the middle of a zone to `middle`. Presses in the zone continue.
    /// `scale`: the size relative to kiai.toml, above 0.
    void move_zone(ZoneName name, Point middle, float scale = 1);
    /// Removes a zone until the next `move_zone`. Presses in the zone end as lost.
    void remove_zone(ZoneName name);
    /// Reports that the app receives no input: it lost the focus, or a device was unplugged.
    /// Every press, key, stay and contact ends.
    void input_lost();

    // --- calls that need no binding --- [any]

    /// Plays the sound of that name, or the clip if there is no such sound.
    /// The play belongs to `scope`, if one is named, and ends with it. An unknown name is logged.
    Play play(SoundName name, PlayOptions options = {}, ScopeName scope = {});
    /// Plays a sound at the frame at which `with` starts. `with` must not have started yet; otherwise the sound starts
    /// with the next block.
    Play play(SoundName name, const Play& with, PlayOptions options = {}, ScopeName scope = {});
    /// Stops a sound, or what a Target names: `stop(Target::bus("pieces"))`. Each play ends as its sound says: by its
    /// fade-out, or after the tail of its loop. A sequence stops with the plays that it started.
    void stop(Target what);
    /// Stops with a raised-cosine fade. `fade`: at least 5 ms. A play that would end sooner keeps its own ending.
    void stop(Target what, Seconds fade);
    /// Stops all plays of a sound, or plays it if none is playing.
    void toggle(SoundName sound);
    /// Pauses within 10 ms. To pause a scope also pauses its timers and sequences.
    void pause(Target what);
    /// Resumes at the position of the pause.
    void resume(Target what);
    /// Stops a sound and plays it again; starts a sequence at its first step; leaves and enters a scope. For a bus, or
    /// for everything: stops each playing sound and plays it again. The new play gets the bus and the scope of the
    /// newest play that was stopped. Refused in a paused scope.
    void restart(Target what);
    /// Fades `from` out and `to` in, at one frame and at constant power: `music = bench.crossfade(music, "night", 2s)`.
    /// If no play of `from` is heard, `to` still starts. If `to` is unknown, `from` continues. Ignores the fade-in and
    /// the delay of the options. `over`: 10 ms … 3600 s.
    Play crossfade(Target from, SoundName to, Seconds over, PlayOptions options = {}, ScopeName scope = {});
    Play crossfade(const Play& from, SoundName to, Seconds over, PlayOptions options = {}, ScopeName scope = {});
    /// Returns the play with that Play::id, or a handle to nothing.
    Play play_of(std::uint64_t id) const;
    /// Starts a sequence.
    void run(SequenceName sequence);
    /// Sets a gain of a bus in dB, in addition to its gain in kiai.toml: for the app's own volume menu.
    /// `gain`: -120 … 24 dB. `over`: 10 ms … 3600 s.
    void set_bus_gain(BusName bus, Decibels gain, Seconds over = Seconds(0.01));
    void mute_bus(BusName bus, bool on = true);
    /// Returns the level of a bus. The first call for a bus starts its measurement and returns silence, as does a call
    /// for an unknown bus.
    BusLevel bus_level(BusName bus) const;
    /// Returns the gain that the app set last; 0 by default.
    Decibels bus_gain(BusName bus) const;
    bool bus_muted(BusName bus) const;

    // --- the present state, as of the last block --- [any]

    /// Returns the value of a dial, or nothing for an unknown name.
    std::optional<float> dial(DialName name) const;
    /// Returns the state of a scope; `off` for an unknown name.
    ScopeState scope(ScopeName name) const;
    /// Returns the position of a zone, or nothing for an unknown name.
    std::optional<ZonePlace> zone(ZoneName name) const;
    /// Returns all plays that have not ended, by number.
    std::vector<PlayingNow> plays() const;
    /// Returns all timers that wait, by binding.
    std::vector<WaitingTimer> timers() const;
    /// Returns how near the engine is to its limits. `poll` also watches them, and warns before something is lost.
    Load load() const;

    /// Sets the app's own effect on a bus, and replaces the earlier one within 10 ms; null removes it.
    /// Returns false if the project has no such bus, or if `prepare` threw. The engine keeps the effect until `poll`
    /// finds that it is no longer used. [control]
    bool set_insert(BusName bus, std::shared_ptr<Insert> insert);
    /// Makes `poll` pass on the finished mix, interleaved left and right: to record what the player hears, see
    /// mix_file.h. An empty function stops it.
    /// `room`: how much may wait for `poll`, 0.1 … 60 s; the first call sets it. What does not fit is replaced by as
    /// much silence, and logged. [control]
    void set_mix_sink(std::function<void(std::span<const float>)> sink, Seconds room = Seconds(2));

    /// Replaces the project at the next block. [control], one thread at a time.
    /// - Continues: plays, presses, holds, timers and sequences that did not change; dials, shuffles, counts and scopes
    ///   by their names.
    /// - Changes within 50 ms, also for current plays: gain, pitch, pan, buses, follows, LFOs, limits. A lowered limit
    ///   steals the oldest plays.
    /// - Changes with the next play: clips, layers, takes, loops. A changed endless loop restarts while the old one
    ///   fades out; a paused one stays as it is.
    /// - Ends with a fade: what was removed.
    /// `poll` frees samples that are no longer played. LoadOptions::reuse avoids decoding unchanged files again.
    void set_project(Project project);

    /// Prepares for shutdown: lets current plays and sequences finish, and ends everything endless.
    /// Loops and paused plays fade out over `fade`, later ones too. Timers and sequences that repeat for ever end.
    /// A sequence, and a binding to the end of a sound, runs at most once more. `sounding` and `waiting` become 0.
    void wind_down(Seconds fade = Seconds(0.2));

    /// Reports the same as the calls above, from a value, at a frame of the engine's clock (default: the next block).
    /// A frame in the past is served at once and logged as late. Returns false if the queue was full and the report was
    /// lost.
    bool report(const Report& report, std::optional<Frames> at = std::nullopt);

    // --- the sound ---

    /// Renders the next `out.size() / 2` frames, interleaved left and right, and advances the clock. One thread at a
    /// time. [rt]
    void render(std::span<float> out) noexcept;

    /// States when the next block was requested. After the first call, call it before each `render`.
    /// The engine then serves each call at its own moment plus `delay`, and no longer at the start of the next block,
    /// so that calls keep their distance in time at every block size. A call that is too late is served at once and
    /// logged as `late`. A Speaker does this itself, see SpeakerSettings::timestamped.
    /// `delay`: frames; one block, and the jitter of the requests. [rt]
    void begin_block(std::chrono::steady_clock::time_point block, Frames delay) noexcept;

    /// Returns the frames that were rendered so far. [any]
    Frames now() const noexcept;
    /// Returns the frames by which the output lags behind the clock, a constant. [any]
    Frames latency() const noexcept;
    /// Returns the number of plays that have not ended. [any]
    int sounding() const noexcept;
    /// Returns how many of them are endless. [any]
    int looping() const noexcept;
    /// Returns the number of running sequences, of reports for a later frame, and of unanswered ends of plays. [any]
    int waiting() const noexcept;
    int sample_rate() const noexcept;
    std::uint64_t seed() const noexcept;
    /// Returns the project that was set last. [control]
    Project project() const;

    // --- recording what the app reports ---

    /// Starts to record all reports and calls as a trace. Its rehearsal gives the same decisions. Call `poll` while the
    /// recording runs. [control]
    void start_recording();
    /// Stops the recording, and returns it for `save_trace`. Its frames count from the start of the recording.
    /// `lost`: receives the number of reports that are missing because `poll` was not called in time. [control]
    Trace stop_recording(std::uint64_t* lost = nullptr);

    // --- decisions and findings ---

    /// Calls the callbacks of plays that ended (Play::on_ended), in order, and passes each decision since the last call
    /// to the log sink, on this thread. Call it once a frame. [control]
    void poll();
    /// Sets the log sink. Without one, each kind of mistake in the app's reports is printed once on standard error.
    /// [control]
    void set_log(std::function<void(const Decision&)> sink);
    /// Adds a log sink next to that of `set_log`, for as long as the returned value lives. [control]
    std::shared_ptr<void> add_log(std::function<void(const Decision&)> sink);
    /// Sets the sink for findings about how the app uses the engine; `poll` reports each once. Without a sink, warnings
    /// that the project does not accept are printed on standard error. [control]
    void set_findings(std::function<void(const Finding&)> sink);
    /// Returns the last decision of each kind about each binding, sound and name that `poll` has read, in order of
    /// frames. For why_silent, see why.h. [control]
    std::vector<Decision> recent_decisions() const;
    /// Reads up to `into.size()` levels, oldest first. Returns the number read. Needs `record_levels`. Single reader.
    /// [control]
    std::size_t read_levels(std::span<PlayLevel> into);

  private:
    friend class Play;
    friend class Speaker;
    friend class Reload;
    void live(bool on) noexcept; // a device calls `render`, so slow blocks are heard
    explicit Engine(std::shared_ptr<EngineShared> shared) : shared_(std::move(shared)) {} // shares an engine
    std::shared_ptr<EngineShared> shared_;
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/engine.h>
#endif
