// Keeps the engine rendering: on a device where there is one, in step with time where there is none.
#include "speaker/device.h"

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

/// Shared with its two threads, so that one which hangs in the system's hands can be left behind.
struct Speaker::State {
    explicit State(Engine same) : engine(std::move(same)) {}

    Engine engine;
    std::mutex mutex;
    std::condition_variable changed;
    std::string status = "opening";
    std::unique_ptr<speaker::Device> device; ///< opened, not started: on its way from the opener to the keeper
    bool settled = false;                    ///< a device plays, or there will be none
    bool tried = false;                      ///< the opener has come back
    bool stop = false;
    bool closed = false;
    std::atomic<bool> playing{false};
    std::atomic<bool> muted{false}; ///< the device must no longer touch the engine

    void open() {
        std::string why;
        auto opened = speaker::Device::open_default(
            engine.sample_rate(), [this](std::span<float> out) { fill(out); }, why);
        const std::lock_guard lock(mutex);
        if (opened) device = std::move(opened);
        status = device ? device->name() + " at " + std::to_string(engine.sample_rate()) : "silent: " + why;
        tried = true;
        settled = settled || !device;
        changed.notify_all();
    }
    void fill(std::span<float> out) noexcept {
        if (muted.load(std::memory_order_acquire))
            std::fill(out.begin(), out.end(), 0.0f);
        else
            engine.render(out);
    }
    /// Renders as much as time has passed, until a device has been opened or all ends.
    std::unique_ptr<speaker::Device> render_in_step(std::unique_lock<std::mutex>& lock) {
        constexpr auto step = 5ms;
        std::vector<float> thrown_away(static_cast<std::size_t>(engine.sample_rate()));
        const auto began = Clock::now();
        double rendered = 0;
        while (!stop && !device) {
            changed.wait_for(lock, step);
            lock.unlock();
            const double due = std::chrono::duration<double>(Clock::now() - began).count() * engine.sample_rate();
            const double frames = std::min(due - rendered, static_cast<double>(thrown_away.size() / 2));
            engine.render({thrown_away.data(), 2 * static_cast<std::size_t>(frames)});
            rendered += static_cast<double>(static_cast<std::size_t>(frames));
            lock.lock();
        }
        return std::move(device);
    }
    void keep() {
        std::unique_lock lock(mutex);
        auto own = render_in_step(lock);
        if (own && !stop) {
            lock.unlock();
            const bool started = own->start();
            playing.store(started);
            lock.lock();
            if (!started) status = "silent: " + own->name() + " does not start";
            settled = true;
            changed.notify_all();
            while (started && !stop) {
                changed.wait_for(lock, 100ms);
                if (own->active()) continue;
                status = "silent: " + own->name() + " has stopped";
                break;
            }
            playing.store(false);
        }
        lock.unlock();
        own.reset(); // plays what it was given, then closes
        lock.lock();
        while (!stop) render_in_step(lock);
        closed = true;
        changed.notify_all();
    }
};

Speaker::Speaker(Engine& engine) : state_(std::make_shared<State>(Engine(engine.shared_))) {
    std::thread([state = state_] { state->open(); }).detach();
    std::thread([state = state_] { state->keep(); }).detach();
}

Speaker::~Speaker() {
    std::unique_lock lock(state_->mutex);
    state_->stop = true;
    state_->changed.notify_all();
    const auto finished = [&] { return state_->tried && state_->closed; };
    if (!state_->changed.wait_for(lock, 2s, finished)) state_->muted.store(true, std::memory_order_release);
    state_->device.reset();
}

bool Speaker::wait_until_open(Seconds limit) {
    std::unique_lock lock(state_->mutex);
    state_->changed.wait_for(lock, limit, [&] { return state_->settled; });
    return playing();
}

bool Speaker::playing() const noexcept {
    return state_->playing.load();
}

std::string Speaker::status() const {
    const std::lock_guard lock(state_->mutex);
    return state_->status;
}

} // namespace kiai::inline v0
