#include "engine/core.h"

#include "dsp/flush.h"

#include <algorithm>

namespace kiai::engine {
namespace {
constexpr std::size_t journal_records = 1 << 15;
constexpr std::size_t level_records = 1 << 16;
} // namespace

Core::Core(const Plan& plan, Due& due, const CoreSettings& settings)
    : due_(due), kernels_(settings.plain_kernels ? dsp::plain_kernels() : dsp::vector_kernels()),
      ring_(settings.reports), queue_(settings.reports),
      journal_(journal_records, settings.keep_levels ? level_records : 0),
      handles_(settings.reports + static_cast<std::size_t>(settings.voices) * 2),
      streams_(settings.streams, settings.streams_in_step),
      plays_(plan, journal_, handles_, kernels_, settings.rate, settings.seed, settings.voices, streams_),
      limiter_(settings.rate, kernels_), left_(Plays::most_frames / 16), right_(Plays::most_frames / 16) {
    batch_.reserve(settings.reports);
}

/// Moves what the app has reported into the queue, as far as there is room; the rest waits in the ring.
void Core::take_reports(Frames now) noexcept {
    if (const std::uint64_t lost = ring_.take_lost(); lost > 0) {
        Record record;
        record.frame = now;
        record.outcome = Outcome::ring_full;
        record.count = lost;
        journal_.write(record);
    }
    Command command;
    while (!queue_.full() && ring_.pop(command)) {
        command.late = command.due != next_block && command.due < now;
        const Frames with = handles_.asked_for({command.with, command.with_generation});
        command.due = std::max({command.due, now, with}) + command.delay; // `next_block` lies before every frame
        const Handles::Handle handle{command.handle, command.generation};
        if (command.kind == CommandKind::report)
            handles_.ask(handle, command.due);
        else if (command.kind != CommandKind::stop_play) // what a play is told before it begins it is told as it begins
            command.due = std::max(command.due, handles_.asked_for(handle));
        queue_.push(command);
    }
}

void Core::publish() noexcept {
    sounding_.store(plays_.sounding(), std::memory_order_release);
    looping_.store(plays_.looping(), std::memory_order_release);
    waiting_.store(queue_.size() + due_.running() + static_cast<int>(plays_.ended().size()), std::memory_order_release);
}

/// Serves what is due, and gives the next frame at which something is.
Frames Core::serve_due(Frames now) noexcept {
    const bool reported = !queue_.empty() && queue_.next_due() <= now;
    if (reported || next_ <= now) {
        batch_.clear();
        while (!queue_.empty() && queue_.next_due() <= now) {
            batch_.push_back(queue_.pop());
            journal_.serve(batch_.back());
        }
        due_.serve(batch_, plays_, now);
        publish();
    }
    next_ = due_.next(plays_, now);
    return queue_.empty() ? next_ : std::min(next_, queue_.next_due());
}

void Core::render_block(float* out, int frames) noexcept {
    const Frames begin = now_.load(std::memory_order_relaxed), end = begin + frames;
    float *left = left_.front().frames, *right = right_.front().frames;
    std::fill_n(left, frames, 0.0f);
    std::fill_n(right, frames, 0.0f);
    for (Frames now = begin; now < end;) {
        const Frames until = std::min(end, serve_due(now));
        plays_.mix(now, static_cast<int>(until - now), left + (now - begin), right + (now - begin));
        now = until;
    }
    limiter_.process(left, right, frames, out);
    publish();
    now_.store(end, std::memory_order_release);
}

void Core::render(std::span<float> out) noexcept {
    const dsp::FlushToZero guard;
    const Frames now = now_.load(std::memory_order_relaxed);
    if (due_.begin_block(plays_, now)) next_ = now;
    take_reports(now);
    for (std::size_t done = 0; done + 1 < out.size();) {
        const std::size_t frames = std::min<std::size_t>(Plays::most_frames, (out.size() - done) / 2);
        render_block(out.data() + done, static_cast<int>(frames));
        done += 2 * frames;
    }
}

} // namespace kiai::engine
