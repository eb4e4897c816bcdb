// Keeps the engine rendering: on a device if there is one, otherwise in step with time.
#include "runtime/output/device.h"

#include <kiai/speaker.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <condition_variable>
#include <mutex>
#include <thread>
#include <vector>

namespace kiai::inline v0 {

using namespace std::chrono_literals;
using Clock = std::chrono::steady_clock;

namespace {

/// Called before each block if calls are timestamped. Blocks come irregularly, and their size may change.
void place_block(Engine& engine, std::size_t& largest, std::size_t frames) noexcept {
    constexpr double uneven = 0.005; // seconds
    largest = std::max(largest, frames);
    engine.begin_block(Clock::now(),
                       static_cast<Frames>(2 * largest) + static_cast<Frames>(uneven * engine.sample_rate()));
}

/// The source of a device. Once shut, it gives silence, and the engine belongs to another renderer. It owns a handle to
/// the engine, because a device that hangs while it is closed may outlive everything else.
class Tap {
  public:
    Tap(Engine same, bool place) : engine_(std::move(same)), timestamped(place) {}
    void draw(std::span<float> out) noexcept {
        int idle = free;
        if (!state_.compare_exchange_strong(idle, drawing, std::memory_order_acquire)) {
            std::fill(out.begin(), out.end(), 0.0f);
            return;
        }
        if (timestamped) place_block(engine_, largest_, out.size() / 2);
        engine_.render(out);
        draws_.fetch_add(1, std::memory_order_relaxed);
        state_.store(free, std::memory_order_release);
    }
    /// Returns when no device is rendering any longer.
    void shut() noexcept {
        for (int idle = free; !state_.compare_exchange_weak(idle, closed, std::memory_order_acquire) && idle != closed;
             idle = free)
            std::this_thread::yield();
    }
    std::uint64_t draws() const noexcept { return draws_.load(std::memory_order_relaxed); }

  private:
    Engine engine_;
    const bool timestamped;
    enum : int { free, drawing, closed };
    std::atomic<int> state_{free};
    std::atomic<std::uint64_t> draws_{0};
    std::size_t largest_ = 0;
};

constexpr auto until_next_attempt = 1s;
// How long a device may request nothing before it counts as gone; some devices start late.
constexpr auto patience = 2s, patience_at_first = 10s;

} // namespace

/// Shared with its two threads, so that a thread that hangs in a system call can be left behind.
struct Speaker::State {
    State(Engine same, SpeakerSettings wishes) : engine(std::move(same)), settings(std::move(wishes)) {}

    Engine engine;
    SpeakerSettings settings;
    std::mutex mutex;
    std::condition_variable changed;
    std::string status = "opening";
    std::unique_ptr<runtime::Device> device; ///< opened, not started: on its way from the opener to the keeper
    std::shared_ptr<Tap> tap;                ///< of that device
    double latency = 0;
    bool wanted = true;   ///< the opener shall try
    bool opening = false; ///< it does
    bool settled = false; ///< a device plays, or there was none at the first attempt
    bool stop = false;
    bool closed = false;
    std::atomic<bool> playing{false};
    std::atomic<std::uint64_t> late{0};

    void open() {
        std::unique_lock lock(mutex);
        while (!stop) {
            changed.wait(lock, [&] { return wanted || stop; });
            if (stop) break;
            wanted = false;
            opening = true;
            lock.unlock();
            std::string why;
            auto new_tap = std::make_shared<Tap>(Engine(engine.shared_), settings.timestamped);
            auto opened = runtime::Device::open(
                settings, engine.sample_rate(), [new_tap](std::span<float> out) { new_tap->draw(out); }, why);
            lock.lock();
            opening = false;
            if (opened) {
                device = std::move(opened);
                tap = std::move(new_tap);
                status = device->name() + " at " + std::to_string(engine.sample_rate());
            } else {
                status = "silent: " + why;
                settled = true;
            }
            changed.notify_all();
        }
        if (stop) device.reset();
    }
    /// Renders in step with time until a device was opened or everything ends.
    void render_in_step(std::unique_lock<std::mutex>& lock) {
        constexpr auto step = 5ms;
        std::vector<float> thrown_away(static_cast<std::size_t>(engine.sample_rate()));
        const auto began = Clock::now();
        auto tried = began;
        double rendered = 0;
        std::size_t largest = 0;
        while (!stop && !device) {
            changed.wait_for(lock, step);
            if (Clock::now() - tried > until_next_attempt && !opening) {
                tried = Clock::now();
                wanted = true;
                changed.notify_all();
            }
            lock.unlock();
            const double due = std::chrono::duration<double>(Clock::now() - began).count() * engine.sample_rate();
            const double frames = std::min(due - rendered, static_cast<double>(thrown_away.size()) / 2);
            if (settings.timestamped) place_block(engine, largest, static_cast<std::size_t>(frames));
            engine.render({thrown_away.data(), 2 * static_cast<std::size_t>(frames)});
            rendered += static_cast<double>(static_cast<std::size_t>(frames));
            lock.lock();
        }
    }
    /// Runs until everything ends, or until the device has stopped or no longer requests blocks.
    void play_on(runtime::Device& own, const Tap& draws, std::unique_lock<std::mutex>& lock) {
        const std::uint64_t late_before = late.load();
        std::uint64_t seen = draws.draws();
        for (auto since = Clock::now(); !stop && own.active();) {
            changed.wait_for(lock, 100ms);
            late.store(late_before + own.late());
            latency = own.latency().count();
            if (const std::uint64_t now = draws.draws(); now != seen) {
                seen = now;
                since = Clock::now();
            }
            if (Clock::now() - since > (seen == 0 ? patience_at_first : patience)) break;
        }
    }
    void keep() {
        std::unique_lock lock(mutex);
        for (;;) {
            render_in_step(lock);
            if (stop) break;
            auto own = std::move(device);
            const auto own_tap = tap;
            lock.unlock();
            const bool started = own->start();
            lock.lock();
            playing.store(started);
            latency = own->latency().count();
            settled = true;
            changed.notify_all();
            engine.live(started);
            if (started) play_on(*own, *own_tap, lock);
            engine.live(false);
            playing.store(false);
            latency = 0;
            if (!stop) status = "silent: " + own->name() + (started ? " has stopped" : " does not start");
            const bool gone = !stop;
            lock.unlock();
            if (gone) {
                own_tap->shut();
                // Closing a dead device may take any time.
                std::thread([dead = std::shared_ptr<runtime::Device>(std::move(own))]() mutable {
                    dead.reset();
                }).detach();
            } else {
                own.reset(); // plays what it was given, then closes
                own_tap->shut();
            }
            lock.lock();
        }
        closed = true;
        changed.notify_all();
    }
};

Speaker::Speaker(Engine& engine, const SpeakerSettings& settings)
    : state_(std::make_shared<State>(Engine(engine.shared_), settings)) {
    std::thread([state = state_] { state->open(); }).detach();
    std::thread([state = state_] { state->keep(); }).detach();
}

Speaker::~Speaker() {
    std::unique_lock lock(state_->mutex);
    state_->stop = true;
    state_->changed.notify_all();
    const bool finished = state_->changed.wait_for(lock, 2s, [&] { return state_->closed && !state_->opening; });
    const auto tap = state_->tap;
    lock.unlock();
    if (!finished && tap) tap->shut(); // what hangs must no longer touch the engine
}

bool Speaker::wait_until_open(Seconds limit) {
    std::unique_lock lock(state_->mutex);
    state_->changed.wait_for(lock, limit, [&] { return state_->settled; });
    return playing();
}

Seconds Speaker::latency() const {
    const std::lock_guard lock(state_->mutex);
    const double own = static_cast<double>(state_->engine.latency()) / state_->engine.sample_rate();
    return Seconds(state_->latency > 0 ? state_->latency + own : 0);
}

std::uint64_t Speaker::late_blocks() const noexcept {
    return state_->late.load();
}

bool Speaker::playing() const noexcept {
    return state_->playing.load();
}

std::string Speaker::status() const {
    const std::lock_guard lock(state_->mutex);
    return state_->status;
}

} // namespace kiai::inline v0
