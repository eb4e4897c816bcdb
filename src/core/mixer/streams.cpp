#include "core/mixer/streams.h"

#include "core/model/threads.h"

#include <algorithm>
#include <chrono>

namespace kiai::mixer {
namespace {
constexpr std::int64_t chunk = 4096;
constexpr std::chrono::milliseconds pause{5}, idle_pause{20};
constexpr int most_threads = 4;

/// Returns the frame up to which a voice finds everything in memory, without a stream.
std::int64_t in_memory(const model::Audio& audio, const Lap& lap, std::int64_t turns) {
    return std::min(audio.held, turns > 1 ? lap.end - lap.crossfade : lap.frames);
}
} // namespace

void Stream::copy(int channel, std::int64_t from, std::int64_t count, float* out) const noexcept {
    const float* ring = frames_.get() + channel * capacity;
    const std::int64_t at = from & (capacity - 1), first = std::min(count, capacity - at);
    std::copy_n(ring + at, first, out);
    std::copy_n(ring, count - first, out + first);
}

Streams::Streams(int count, bool in_step) : in_step_(in_step || !model::has_threads) {
    for (int i = 0; i < 2 * count; ++i) all_.push_back(std::make_unique<Stream>());
}

void Streams::start() {
    if (all_.empty() || in_step_ || !pool_.empty()) return;
    const int threads = std::min(most_threads, most());
    for (int t = 0; t < threads; ++t) pool_.emplace_back([this] { run(); });
}

Streams::~Streams() {
    {
        const std::lock_guard lock(mutex_);
        ends_ = true;
    }
    wake_.notify_all();
    for (std::thread& thread : pool_) thread.join();
}

Stream* Streams::claim(const model::Audio& audio, const Lap& lap, std::int64_t turns, std::int64_t from,
                       std::atomic<int>& users) noexcept {
    for (const auto& stream : all_) {
        if (stream->state_.load(std::memory_order_acquire) != Stream::State::free) continue;
        stream->audio_ = &audio;
        stream->lap_ = &lap;
        stream->users_ = &users;
        stream->turns_.store(turns, std::memory_order_relaxed);
        stream->passed_.store(from, std::memory_order_relaxed);
        stream->in_memory_ = in_memory(audio, lap, turns);
        stream->filled_.store(stream->in_memory_, std::memory_order_relaxed);
        stream->state_.store(Stream::State::wanted, std::memory_order_release);
        return stream.get();
    }
    return nullptr;
}

void Streams::leave(Stream& stream) noexcept {
    stream.state_.store(Stream::State::left, std::memory_order_release);
    if (in_step_) serve(stream);
}

int Streams::free() const noexcept {
    return static_cast<int>(std::count_if(all_.begin(), all_.end(), [](const auto& stream) {
        return stream->state_.load(std::memory_order_acquire) == Stream::State::free;
    }));
}

/// Reads the next frames of one stream, as far as there is room. Returns false if there was nothing to do.
bool Streams::fill_some(Stream& stream) {
    const std::int64_t turns = stream.turns_.load(std::memory_order_acquire);
    const std::int64_t end = stream.lap_->length(turns), at = stream.filled_.load(std::memory_order_relaxed);
    const std::int64_t room = stream.passed_.load(std::memory_order_acquire) + Stream::capacity - at;
    if (at >= end || room <= 0) return false;
    const Lap::Run run = stream.lap_->run(at, turns);
    const std::int64_t place = at & (Stream::capacity - 1);
    const std::int64_t count = std::min({chunk, run.count, room, Stream::capacity - place});
    float* left = stream.frames_.get() + place;
    float* right = stream.audio_->channels == 2 ? left + Stream::capacity : nullptr;
    if (run.in_crossfade) {
        const float* crossfaded = stream.lap_->crossfaded.data() + run.from;
        std::copy_n(crossfaded, count, left);
        if (right) std::copy_n(crossfaded + stream.lap_->crossfade, count, right);
    } else {
        const std::int64_t got = stream.reader_ ? stream.reader_->read(run.from, count, left, right) : 0;
        // A file that ends too early or can no longer be read is silent from there on.
        std::fill(left + std::clamp<std::int64_t>(got, 0, count), left + count, 0.0f);
        if (right) std::fill(right + std::clamp<std::int64_t>(got, 0, count), right + count, 0.0f);
        model::hold_in_range({left, static_cast<std::size_t>(count)});
        if (right) model::hold_in_range({right, static_cast<std::size_t>(count)});
    }
    stream.filled_.store(at + count, std::memory_order_release);
    return true;
}

bool Streams::serve(Stream& stream) {
    switch (stream.state_.load(std::memory_order_acquire)) {
    case Stream::State::free:
        return false;
    case Stream::State::wanted: {
        stream.reader_ = stream.audio_->stream->open();
        if (!stream.frames_) stream.frames_.reset(new float[2 * Stream::capacity]); // touched as it is filled
        // A voice that starts after the head in memory has nothing yet.
        const std::int64_t filled = stream.filled_.load(std::memory_order_relaxed);
        const std::int64_t from = std::max<std::int64_t>(0, stream.passed_.load(std::memory_order_relaxed));
        if (from > filled) stream.filled_.store(from, std::memory_order_release);
        Stream::State wanted = Stream::State::wanted; // unless it was left meanwhile
        stream.state_.compare_exchange_strong(wanted, Stream::State::open);
        return true;
    }
    case Stream::State::open:
        return fill_some(stream);
    case Stream::State::left:
        stream.reader_.reset();
        stream.users_->fetch_sub(1, std::memory_order_release);
        stream.state_.store(Stream::State::free, std::memory_order_release);
        return true;
    }
    return false;
}

/// Fills each stream that no other thread is filling. Returns false if there was nothing to do.
bool Streams::fill_once() {
    bool busy = false;
    for (const auto& stream : all_) {
        if (stream->busy_.test_and_set(std::memory_order_acquire)) continue;
        busy = serve(*stream) || busy;
        stream->busy_.clear(std::memory_order_release);
    }
    return busy;
}

void Streams::fill() {
    while (fill_once()) {
    }
}

/// `render` may not wake this thread, because that would be a system call. The thread polls often enough for the head
/// of a clip to last in between.
void Streams::run() {
    std::unique_lock lock(mutex_);
    while (!ends_) {
        lock.unlock();
        fill();
        const bool idle = free() == static_cast<int>(all_.size());
        lock.lock();
        wake_.wait_for(lock, idle ? idle_pause : pause, [&] { return ends_; });
    }
}

} // namespace kiai::mixer
