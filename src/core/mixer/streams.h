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

/// The frames of one voice, counted through its loops as Lap counts them. The voice reads and the loader writes.
class Stream {
  public:
    static constexpr std::int64_t capacity = 1 << 16;

    /// Returns the frame before which everything is ready: the head in memory and what was filled. [rt]
    std::int64_t ready() const noexcept { return filled_.load(std::memory_order_acquire); }
    /// Returns the frame before which everything is in memory, and is not copied from here. [rt]
    std::int64_t in_memory() const noexcept { return in_memory_; }
    /// Copies frames that are ready and not yet released. [rt]
    void copy(int channel, std::int64_t from, std::int64_t count, float* out) const noexcept;
    /// Releases the frames before `at`. [rt]
    void pass(std::int64_t at) noexcept { passed_.store(at, std::memory_order_release); }
    /// Sets the number of turns. What was filled already stays correct; see Voice::finish_turn. [rt]
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
    /// [control] `count` streams for plays that count, and as many again for plays that fade. `in_step`: only `fill`
    /// reads.
    Streams(int count, bool in_step);
    /// Starts the loader's threads, before the first `claim`. [control]
    void start();
    ~Streams();

    /// Returns a free stream for a voice that starts at frame `from`, or null. A clip in memory needs none. [rt]
    /// `users` is decremented once nothing of the clip is read any longer.
    Stream* claim(const model::Audio& audio, const Lap& lap, std::int64_t turns, std::int64_t from,
                  std::atomic<int>& users) noexcept;
    /// Returns how many streams plays that count may use. [rt]
    int most() const noexcept { return static_cast<int>(all_.size() / 2); }
    /// Returns how many may be claimed now. [rt]
    int free() const noexcept;
    /// Releases the stream of a voice that ended. The stream is free once the loader has seen that; in step it is free
    /// at once, so that the next voice does not depend on the block size. [rt]
    void leave(Stream& stream) noexcept;
    bool in_step() const noexcept { return in_step_; }
    /// Fills all streams as far as possible; for rehearsals, which wait for the disk.
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
