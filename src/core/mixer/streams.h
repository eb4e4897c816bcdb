// Long clips that are read from the disk while they play: one ring of frames per voice, filled by a small pool of
// threads.
#pragma once

#include "core/mixer/lap.h"
#include "core/model/audio.h"

#include <atomic>
#include <condition_variable>
#include <cstdint>
#include <memory>
#include <mutex>
#include <thread>
#include <vector>

namespace kiai::mixer {

/// The frames of one voice, counted on through its loops as Lap counts them. The voice reads, the loader fills.
class Stream {
  public:
    static constexpr std::int64_t capacity = 1 << 16;

    /// Frames before it are ready: those of the head in memory, and what was filled. [rt]
    std::int64_t ready() const noexcept { return filled_.load(std::memory_order_acquire); }
    /// Frames before it lie in memory, and are not copied from here. [rt]
    std::int64_t in_memory() const noexcept { return in_memory_; }
    /// Copies frames that are ready and not yet passed. [rt]
    void copy(int channel, std::int64_t from, std::int64_t count, float* out) const noexcept;
    /// Frames before `at` are no longer wanted. [rt]
    void pass(std::int64_t at) noexcept { passed_.store(at, std::memory_order_release); }
    /// From now on it has so many turns. What is filled already stays right, see Voice::finish_turn. [rt]
    void set_turns(std::int64_t turns) noexcept { turns_.store(turns, std::memory_order_release); }

  private:
    friend class Streams;
    std::atomic_flag busy_; ///< a thread of the pool serves it
    enum class State : std::uint8_t { free, wanted, open, left };

    std::atomic<State> state_{State::free};
    const model::Audio* audio_ = nullptr;
    const Lap* lap_ = nullptr;
    std::atomic<int>* users_ = nullptr;
    std::int64_t in_memory_ = 0;
    std::atomic<std::int64_t> filled_{0}, passed_{0}, turns_{1};
    std::unique_ptr<model::FrameReader> reader_;
    std::unique_ptr<float[]> frames_; ///< left, then right
};

/// All streams of an engine.
class Streams {
  public:
    /// [control] `count` that count, and as many again for those that fade. `in_step`: nothing is filled but by `fill`.
    Streams(int count, bool in_step);
    /// There are clips to be read: before the first `claim`. [control]
    void start();
    ~Streams();

    /// A free one for a voice that begins at frame `from`, or null. A clip in memory needs no stream. [rt]
    /// `users` is lowered once nothing of the clip is read any longer.
    Stream* claim(const model::Audio& audio, const Lap& lap, std::int64_t turns, std::int64_t from,
                  std::atomic<int>& users) noexcept;
    /// How many may be read by plays that count. [rt]
    int most() const noexcept { return static_cast<int>(all_.size() / 2); }
    /// How many may be claimed now. [rt]
    int free() const noexcept;
    /// The voice has ended. It is free once the loader has seen that; in step, at once, so that the next voice does
    /// not depend on where a block ends. [rt]
    void leave(Stream& stream) noexcept;
    bool in_step() const noexcept { return in_step_; }
    /// Fills all as far as they go; for rehearsals, whose time waits for the disk.
    void fill();

  private:
    bool serve(Stream& stream);
    bool fill_some(Stream& stream);
    bool fill_once();
    void run();

    std::vector<std::unique_ptr<Stream>> all_;
    bool in_step_;
    std::mutex mutex_; ///< of `ends_` only; never taken by `render`
    std::condition_variable wake_;
    bool ends_ = false;
    std::vector<std::thread> pool_; ///< several, so that a slow file delays its own stream alone
};

} // namespace kiai::mixer
