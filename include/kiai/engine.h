// The engine: takes what the app reports, decides what sounds, and renders it.
#pragma once

#include <kiai/decision.h>
#include <kiai/play.h>
#include <kiai/project.h>
#include <kiai/report.h>
#include <kiai/units.h>

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string_view>

namespace kiai::inline v0 {

/// Settings of an engine; a value out of its range is taken as the nearest in it.
struct EngineSettings {
    int sample_rate = 48000; ///< frames per second of the output, 8000 … 192000
    std::optional<std::uint64_t> seed =
        std::nullopt;    ///< for all chance; without one the system gives one, see Engine::seed
    int voices = 1024;   ///< layers that may sound at once, 1 … 65536
    int reports = 16384; ///< reports that may wait for the next block, 16 … 1048576, a power of two or the next one
    int streams = 16;    ///< long clips that may be read from the disk at once, 0 … 256
    /// Read them within `render`, which then waits for the disk: for rendering that is not heard as it is made.
    bool streams_in_step = false;
    bool plain_kernels = false; ///< use the portable kernels, whose output is the same on every processor
    bool keep_levels = false;   ///< keep the level of every play per 64 frames for Engine::read_levels
};

/// How loud one layer of a play was over 64 frames of the clock.
struct PlayLevel {
    std::uint32_t play = 0;
    std::uint32_t layer = 0;
    Frames frame = 0; ///< the first of the 64, a multiple of 64
    float peak = 0;   ///< largest magnitude of either side after gain and pan; linear, 1 is full scale
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
    /// Reported again before that it does nothing, so it may be called every frame. `pointer`: 0 … 15, for several
    /// fingers.
    void press(Point point, int pointer = 0);
    /// The pointer was let go, wherever it is.
    void release(int pointer = 0);
    /// A key went down. `code` is its W3C UI Events code: `Space`, `KeyT`, `ArrowLeft`. Auto-repeat may be passed on:
    /// it is ignored.
    void key_down(std::string_view code);
    /// A key came up.
    void key_up(std::string_view code);
    /// Two bodies began to touch. The kinds may come in either order.
    void contact(std::string_view kind, std::string_view other, Touch touch = {});
    /// A script event.
    void notice(std::string_view name);
    /// Starts the sound of that name, or the clip where there is no such sound, without a binding.
    Play play(std::string_view name, PlayOptions options = {});
    /// Ends all plays of a sound in its own way: with its fade-out, or with the tail of its loop.
    void stop(std::string_view sound);

    /// Turns a dial of kiai.toml; what follows it goes there smoothly. Held within the dial's range.
    void set_dial(std::string_view name, float value);

    /// Ends all plays that would not end by themselves.
    void stop_loops(Seconds fade = Seconds(0.2));

    /// The same as the calls above, from a value, and at a frame of the clock of the app's choice (default: the first
    /// of the next block). A frame that has passed is served at once and logged as late. False where the ring was full
    /// and the report is lost.
    bool report(const Report& report, std::optional<Frames> at = std::nullopt);

    // --- the sound ---

    /// Renders the next `out.size() / 2` frames, interleaved left and right, and moves the clock by them. One thread at
    /// a time. [rt]
    void render(std::span<float> out) noexcept;

    /// Frames since the engine started: how far `render` has come. [any]
    Frames now() const noexcept;
    /// How many frames the output lags behind the clock, a constant. [any]
    Frames latency() const noexcept;
    /// How many plays have not come to their last frame, and how many of them would never by themselves. [any]
    int sounding() const noexcept;
    int looping() const noexcept;
    int sample_rate() const noexcept;
    std::uint64_t seed() const noexcept;
    const Project& project() const noexcept;

    // --- what it decided ---

    /// Hands each decision since the last call to the log sink, in order, on this thread. Call it once a frame.
    /// [control]
    void poll();
    /// Sets the sink. Without one, each kind of mistake in what the app reports is written to standard error, once.
    /// [control]
    void set_log(std::function<void(const Decision&)> sink);
    /// Moves up to `into.size()` levels out, oldest first; how many there were. For one reader, `keep_levels` set.
    /// [control]
    std::size_t read_levels(std::span<PlayLevel> into);

  private:
    friend class Play;
    friend class Speaker;
    explicit Engine(std::shared_ptr<EngineShared> shared)
        : shared_(std::move(shared)) {} // the same engine a second time
    std::shared_ptr<EngineShared> shared_;
};

} // namespace kiai::inline v0
