// The engine: takes what the app reports, decides what sounds, and renders it.
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

/// Settings of an engine; a value out of its range is taken as the nearest in it.
struct EngineSettings {
    int sample_rate = 48000; ///< frames per second of the output, 8000 … 192000
    std::optional<std::uint64_t> seed =
        std::nullopt;   ///< for all chance; without one the system gives one, see Engine::seed
    int voices = 256;   ///< layers that may sound at once, 1 … 65536; beyond it the least audible plays are stolen
    int reports = 2048; ///< reports that may wait for the next block, 16 … 1048576, a power of two or the next one
    int streams = 16;   ///< long clips that may be read from the disk at once, 0 … 256
    /// Read them within `render`, which then waits for the disk: for rendering that is not heard as it is made.
    bool synchronous_streams = false;
    bool portable_kernels = false; ///< use the portable kernels, whose output is the same on every processor
    bool decide_only = false;   ///< mix nothing: silence, and no levels; what is decided is the same, many times faster
    bool record_levels = false; ///< keep the level of every play per 64 frames for Engine::read_levels
};

/// One engine plays one project. Several may live at once. Calls that report something are [any] thread, return at once
/// and never block; what they cause happens in `render`. Destroying it while another thread is in a call is the app's
/// mistake, as ever.
class Engine {
  public:
    /// Takes all memory that it will need. [control]
    explicit Engine(Project project, const EngineSettings& settings = {});
    ~Engine();
    Engine(Engine&&) noexcept;
    Engine& operator=(Engine&&) noexcept;

    // --- what the app reports --- [any]

    /// The pointer was pressed at `point`. The zone in front there gets the press, and keeps it until `release`.
    /// Reported again before that it does nothing, so it may be called every frame. `pointer`: any number, for several
    /// fingers; the engine keeps 32 at once.
    void press(Point point, std::uint64_t pointer = 0);
    /// The pointer was let go, wherever it is.
    void release(std::uint64_t pointer = 0);
    /// A key went down. `code` is its W3C UI Events code: `Space`, `KeyT`, `ArrowLeft`. Auto-repeat may be passed on:
    /// it is ignored.
    void key_down(std::string_view code);
    /// A key came up.
    void key_up(std::string_view code);
    /// A press with its release, and a key with its end, for an app that only learns of whole clicks and keys.
    void click(Point point, std::uint64_t pointer = 0);
    void key_tap(std::string_view code);
    /// The pointer is at `point` now, pressed or not: it enters and leaves zones. May be called every frame.
    void pointer(Point point, std::uint64_t pointer = 0);
    /// The pointer is nowhere any more: it left the window, or the finger was lifted.
    void pointer_gone(std::uint64_t pointer = 0);
    /// Two bodies began to touch. The kinds may come in either order. With a `pair` number it may be called for as long
    /// as they touch.
    void contact(ContactName kind, ContactName other, Contact touch = {});
    /// The touch of that number has ended.
    void contact_end(std::uint64_t pair);
    /// Instead: a body of a kind is at a place now, and Kiai finds out itself which bodies touch. `number`: the app's
    /// own, above 0, at most 512 at a time. May be called every frame. Its contacts have as their strength how fast the
    /// two came nearer, in the app's units per second. `radius` from 0. `moment`: when the body was there, on any clock
    /// of the app's, such as the time of its simulation; default: the moment of the call.
    void body(std::uint64_t number, ContactName kind, Point middle, float radius,
              std::optional<Seconds> moment = std::nullopt);
    /// The same of an upright box.
    void body_box(std::uint64_t number, ContactName kind, Point middle, Point size,
                  std::optional<Seconds> moment = std::nullopt);
    /// It is nowhere any more; what it touches ends.
    void body_gone(std::uint64_t number);
    /// A script event, with up to four values for conditions and follows.
    void notice(NoticeName name, std::span<const NamedValue> values = {});
    void notice(NoticeName name, std::initializer_list<NamedValue> values) {
        notice(name, std::span(values.begin(), values.size()));
    }
    /// The playhead of a motion is at `frame` now, in frames of the motion; beyond its length it goes on over the seam.
    /// `playhead`: 0 … 15, where several run at once.
    void playhead(MotionName motion, float frame, int playhead = 0);
    /// The same in seconds, by the motion's own rate.
    void playhead(MotionName motion, Seconds at, int playhead = 0);
    /// It does not run any more; where it comes next, it comes first.
    void playhead_gone(MotionName motion, int playhead = 0);
    /// Turns a dial of kiai.toml; what follows it goes there smoothly, and watches look at it. Held within its range.
    void set_dial(DialName name, float value);
    /// A part of the app's life begins, ends (what belongs to it ends with it), stands still, goes on. Again: nothing.
    void enter_scope(ScopeName name);
    void leave_scope(ScopeName name);
    void pause_scope(ScopeName name);
    void resume_scope(ScopeName name);
    /// Moves a zone so that its middle is at `middle`, `scale` (above 0) times as large as in kiai.toml. What is
    /// pressed in it stays so.
    void move_zone(ZoneName name, Point middle, float scale = 1);
    /// Takes a zone away, until `move_zone`; what is pressed in it ends, without having been let go.
    void remove_zone(ZoneName name);
    /// The app gets no input any more: focus gone, device unplugged. Every press, key, stay and touch ends.
    void input_lost();

    // --- what it does without a binding --- [any]

    /// Starts the sound of that name, or the clip where there is no such sound. It belongs to `scope`, where one is
    /// named, and ends with it.
    Play play(SoundName name, PlayOptions options = {}, ScopeName scope = {});
    /// The same, at the frame at which `with` begins, where that has been asked for and has not begun yet.
    Play play(SoundName name, const Play& with, PlayOptions options = {}, ScopeName scope = {});
    /// Stops a sound by its name, or what a Target names: `stop(Target::bus("pieces"))`. Each play ends in the way that
    /// its sound says: with its fade-out, or with the tail of its loop. A sequence stops with the plays that it
    /// started.
    void stop(Target what);
    /// Stops with a raised-cosine fade. `fade`: at least 5 ms; a play that would end sooner keeps its own ending.
    void stop(Target what, Seconds fade);
    /// Stops all plays of a sound, or starts one if none sounds.
    void toggle(SoundName sound);
    /// Pauses within 10 ms, and resumes from there. To pause a scope also pauses its timers and sequences.
    void pause(Target what);
    void resume(Target what);
    /// Stops a sound and plays it again; runs a sequence again from its first step; leaves and enters a scope; stops
    /// each sound that sounds on a bus, or anywhere, and plays it again. What is played again belongs to the bus and
    /// the scope of the newest play that was stopped; in a paused scope it is refused.
    void restart(Target what);
    /// Ends `from` with a fade and begins `to` with a fade-in, both at one frame and over the same time, at constant
    /// power: `music = bench.crossfade(music, "night", 2s)`. `over`: 10 ms … 3600 s. Where nothing of `from` sounds,
    /// `to` begins all the same; where there is no sound `to`, `from` goes on. The options' fade-in and delay are not
    /// used.
    Play crossfade(Target from, SoundName to, Seconds over, PlayOptions options = {}, ScopeName scope = {});
    Play crossfade(const Play& from, SoundName to, Seconds over, PlayOptions options = {}, ScopeName scope = {});
    /// Returns the play with that Play::id; a handle to nothing where there never was one.
    Play play_of(std::uint64_t id) const;
    /// Begins a sequence.
    void run(SequenceName sequence);
    /// The gain of all that is on a bus, dB, -120 … 24, on top of kiai.toml's; for an app's own menu.
    void set_bus_gain(BusName bus, Decibels gain, Seconds over = Seconds(0.01));
    void mute_bus(BusName bus, bool on = true);
    /// Returns how loud a bus is. The first call for a bus starts its measurement and returns silence, as does a call
    /// for an unknown bus; a bus that nobody asks for is not measured.
    BusLevel bus_level(BusName bus) const;
    /// As the app set it last; 0 and false until then.
    Decibels bus_gain(BusName bus) const;
    bool bus_muted(BusName bus) const;

    // --- what it can be asked about the present --- as of the last block [any]

    /// Returns what a dial is at, whoever turned it last; no value for an unknown name.
    std::optional<float> dial(DialName name) const;
    /// Returns `off` for an unknown name.
    ScopeState scope(ScopeName name) const;
    /// Returns where a zone is; no value for an unknown name.
    std::optional<ZonePlace> zone(ZoneName name) const;
    /// Returns all plays that have not come to their last frame, by their numbers.
    std::vector<PlayingNow> plays() const;
    /// Returns how near the engine is to its limits. `poll` finds it too, and warns before something is lost.
    Load load() const;

    /// Puts the app's own processing on a bus, in place of the one before; null: none. It changes over within 10 ms.
    /// False where the project has no such bus, or `prepare` threw. The engine keeps it until `poll` finds that it is
    /// not used any more. [control]
    bool set_insert(BusName bus, std::shared_ptr<Insert> insert);
    /// From now on `poll` hands on the finished mix, interleaved left and right, as `render` makes it, while a device
    /// plays as well: to record what the player hears, see mix_file.h. `room`: how much may wait for `poll`, 0.1 … 60
    /// s, set by the first call. What does not fit is replaced by silence, so that the time stays right, and logged.
    /// Without a function: no longer. [control]
    void set_mix_sink(std::function<void(std::span<const float>)> sink, Seconds room = Seconds(2));

    /// The project is another from the next block on. What is not changed goes on: plays, presses, holds, timers,
    /// sequences, and by their names dials, shuffles, counts and scopes. Gain, pitch, pan, buses, follows, LFOs and
    /// limits reach the plays that sound within 50 ms; clips, layers, takes and loops count from the next play; a loop
    /// without an end that is another now begins anew while the old one fades; what is gone fades. Where a limit was
    /// lowered the oldest are stolen. A paused loop stays as it is. Samples that nothing plays any more are let go by
    /// `poll`. Call load_project with LoadOptions::reuse, so that what is the same is not decoded again. [control],
    /// from one thread at a time
    void set_project(Project project);

    /// The app comes to its end: what sounds and what runs goes on to its own, and what would go on for ever ends.
    /// Loops and paused plays fade, those too that begin later; timers and sequences that repeat for ever end; a
    /// sequence, and what is bound to the end of a sound, comes once more at most. `sounding` and `waiting` come to 0.
    void wind_down(Seconds fade = Seconds(0.2));

    /// The same as the calls above, from a value, and at a frame of the clock of the app's choice (default: the first
    /// of the next block). A frame that has passed is served at once and logged as late. False where the ring was full
    /// and the report is lost.
    bool report(const Report& report, std::optional<Frames> at = std::nullopt);

    // --- the sound ---

    /// Renders the next `out.size() / 2` frames, interleaved left and right, and moves the clock by them. One thread at
    /// a time. [rt]
    void render(std::span<float> out) noexcept;

    /// The next block is asked for at the moment `block`. Once this has been called, before each `render`, what the app
    /// reports is no longer served at the first frame of the next block, but at the frame of the moment of the call
    /// plus `delay`: so two calls 3 ms apart stay 3 ms apart, whatever the block size. `delay`: frames, one block and
    /// as much as blocks are asked for unevenly; what comes too late for it is served at once and logged as `late`. A
    /// Speaker does it itself, see SpeakerSettings::placed. [rt]
    void begin_block(std::chrono::steady_clock::time_point block, Frames delay) noexcept;

    /// Frames since the engine started: how far `render` has come. [any]
    Frames now() const noexcept;
    /// How many frames the output lags behind the clock, a constant. [any]
    Frames latency() const noexcept;
    /// How many plays have not come to their last frame, and how many of them would never by themselves. [any]
    int sounding() const noexcept;
    int looping() const noexcept;
    /// How many sequences run, reports wait for their frame, and ends of plays have not been answered yet. [any]
    int waiting() const noexcept;
    int sample_rate() const noexcept;
    std::uint64_t seed() const noexcept;
    /// The project as it was given last. [control]
    Project project() const;

    // --- what was reported ---

    /// From now on what the app reports is recorded as a trace: triggers, dials, scopes, direct calls, handles. Its
    /// rehearsal, begun where the recording began, gives the same decisions. Call `poll` meanwhile. [control]
    void start_recording();
    /// Ends it: what was recorded, ready for `save_trace`. Frames count from where the engine was when it began.
    /// `lost`: how many reports are missing since `poll` was not called often enough. [control]
    Trace stop_recording(std::uint64_t* lost = nullptr);

    // --- what it decided ---

    /// Calls what waits for the end of plays (Play::on_ended), in the order of their ends; and hands each decision
    /// since the last call to the log sink, in order, on this thread. Call it once a frame. [control]
    void poll();
    /// Sets the sink. Without one, each kind of mistake in what the app reports is written to standard error, once.
    /// [control]
    void set_log(std::function<void(const Decision&)> sink);
    /// Sets where `poll` tells what it finds doubtful about how the app uses it, each once (those findings for which
    /// found_running holds). Without one, warnings that the project does not accept go to standard error. [control]
    void set_findings(std::function<void(const Finding&)> sink);
    /// Of what `poll` has read: the last decision of each kind about each binding, sound and name, in order of frames.
    /// For why_silent, see why.h. [control]
    std::vector<Decision> recent_decisions() const;
    /// Moves up to `into.size()` levels out, oldest first; how many there were. For one reader, `record_levels` set.
    /// [control]
    std::size_t read_levels(std::span<PlayLevel> into);

  private:
    friend class Play;
    friend class Speaker;
    friend class Reload;
    void live(bool on) noexcept; // a device draws: what takes too long is heard
    explicit Engine(std::shared_ptr<EngineShared> shared)
        : shared_(std::move(shared)) {} // the same engine a second time
    std::shared_ptr<EngineShared> shared_;
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/engine.h>
#endif
