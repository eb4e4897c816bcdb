#include "core/mixer/core.h"

#include "core/dsp/flush.h"

#include <algorithm>
#include <chrono>

namespace kiai::mixer {
namespace {
constexpr std::size_t least_records = 1 << 12;
constexpr std::size_t level_records = 1 << 16;
constexpr Frames latest = Frames{1} << 62; // a frame that is never reached, with room to add to
} // namespace

Core::Core(const Plan& plan, Due& due, const CoreSettings& settings)
    : due_(due), kernels_(settings.kernels()), decide_only_(settings.decide_only), ring_(settings.reports),
      later_(settings.reports / 2), queue_(settings.reports), calendar_(settings.reports / 2),
      journal_(std::max<std::size_t>(least_records, 2 * settings.reports), settings.record_levels ? level_records : 0),
      handles_(settings.reports + static_cast<std::size_t>(settings.voices) * 2),
      streams_(settings.streams, settings.synchronous_streams), meters_(settings.rate, kernels_),
      inserts_(settings.rate, Plays::most_frames), board_(Plays::most_plays(settings.voices)),
      plays_(plan, journal_, handles_, kernels_, settings.rate, settings.seed, settings.voices, streams_, meters_,
             inserts_, board_, settings.decide_only),
      limiter_(settings.rate, kernels_), left_(Plays::most_frames / 16), right_(Plays::most_frames / 16),
      settings_(settings) {
    batch_.reserve(settings.reports + settings.reports / 2); // queue and calendar may be due at one frame
}

/// Refuses a report for a later frame, because the calendar is full.
void Core::refuse(const Command& command, Frames now) noexcept {
    decisions::Record record;
    record.frame = now;
    record.outcome = Outcome::calendar_full;
    record.trigger = command.report;
    record.on = command.name;
    journal_.write(record);
    if (command.kind == CommandKind::report) handles_.end({command.handle, command.generation}, EndReason::lost, now);
}

/// Takes the app's reports out of the ring: those due before `end` go into the queue, later ones into the calendar. A
/// full calendar holds nothing else back.
void Core::take_reports(Frames now, Frames end) noexcept {
    const auto lost = [&](Outcome outcome, std::uint64_t count) {
        if (count == 0) return;
        decisions::Record record;
        record.frame = now;
        record.outcome = outcome;
        record.count = count;
        journal_.write(record);
    };
    lost(Outcome::ring_full, ring_.take_lost());
    lost(Outcome::names_full, ring_.take_unnamed());
    while (Command* const taken = ring_.take()) {
        Command& command = *taken;
        command.late = command.due != next_block && command.due < now;
        const Frames with =
            command.report == ReportKind::play ? handles_.asked_for({command.with, command.with_generation}) : -1;
        command.due = std::max({command.due, now, with}); // `next_block` is before every frame
        command.due = command.due < latest ? command.due + command.delay : latest;
        const Handles::Handle handle{command.handle, command.generation};
        if (command.kind == CommandKind::report)
            handles_.ask(handle, command.due);
        else if (command.report != ReportKind::play_stop) // calls before the start of a play apply at its start
            command.due = std::max(command.due, handles_.asked_for(handle));
        if (command.due < end) {
            queue_.push(command);
            continue;
        }
        if (later_.full())
            refuse(command, now);
        else
            calendar_.push(*later_.keep(command));
        ring_.release(command);
    }
}

/// Returns the queue whose first command is served first.
DueQueue& Core::first_due() noexcept {
    if (queue_.empty() || calendar_.empty()) return queue_.empty() ? calendar_ : queue_;
    return queue_.next().before(calendar_.next()) ? queue_ : calendar_;
}

void Core::publish() noexcept {
    sounding_.store(plays_.sounding(), std::memory_order_release);
    looping_.store(plays_.looping(), std::memory_order_release);
    voices_.store(plays_.counted_voices(), std::memory_order_relaxed);
    streaming_.store(plays_.counted_streams(), std::memory_order_relaxed);
    waiting_.store(queue_.size() + calendar_.size() + due_.running() + static_cast<int>(plays_.ended().size()),
                   std::memory_order_release);
}

/// Serves what is due, and returns the next frame at which something is.
Frames Core::serve_due(Frames now) noexcept {
    const auto due = [&] { // of what was reported
        const DueQueue& first = first_due();
        return first.empty() ? latest : first.next().due;
    };
    if (due() <= now || next_ <= now) {
        batch_.clear();
        while (due() <= now && batch_.size() < batch_.capacity()) batch_.push_back(first_due().pop());
        due_.serve(batch_, plays_, now);
        for (const Command* const served : batch_)
            later_.owns(served) ? later_.release(served) : ring_.release(*served);
        publish();
    }
    next_ = due_.next(plays_, now);
    return std::min(next_, std::max(due(), now + 1));
}

void Core::render_block(float* out, int frames) noexcept {
    const Frames begin = now_.load(std::memory_order_relaxed), end = begin + frames;
    float *left = left_.front().frames, *right = right_.front().frames;
    if (!decide_only_) std::fill_n(left, frames, 0.0f), std::fill_n(right, frames, 0.0f);
    for (Frames now = begin; now < end;) {
        const Frames due = serve_due(now), until = std::min({end, due, std::max(plays_.next(), now + 1)});
        plays_.mix(now, static_cast<int>(until - now), left + (now - begin), right + (now - begin));
        now = until;
    }
    if (decide_only_)
        std::fill_n(out, 2 * frames, 0.0f);
    else
        limiter_.process(left, right, frames, out);
    if (!decide_only_) meters_.limited(limiter_.least_gain());
    publish();
    now_.store(end, std::memory_order_release);
}

void Core::render(std::span<float> out) noexcept {
    const dsp::FlushToZero guard;
    const auto began = std::chrono::steady_clock::now();
    const Frames now = now_.load(std::memory_order_relaxed);
    if (due_.begin_block(plays_, now)) next_ = now;
    take_reports(now, now + static_cast<Frames>(out.size() / 2));
    BlockTimes::Block block;
    block.reports = queue_.size();
    block.scheduled = calendar_.size();
    for (std::size_t done = 0; done + 1 < out.size();) {
        const std::size_t frames = std::min<std::size_t>(Plays::most_frames, (out.size() - done) / 2);
        render_block(out.data() + done, static_cast<int>(frames));
        done += 2 * frames;
    }
    hand_on(out);
    const std::chrono::duration<double> took = std::chrono::steady_clock::now() - began;
    block.frames = static_cast<std::uint32_t>(out.size() / 2);
    if (block.frames == 0) return;
    block.share = static_cast<float>(took.count() * settings_.rate / block.frames);
    block.decisions = static_cast<int>(journal_.waiting());
    times_.add(block);
}

/// Hands the finished mix to the tap.
void Core::hand_on(std::span<const float> out) noexcept {
    const std::uint64_t lost = tap_.write(out);
    if (lost == 0) return;
    decisions::Record record;
    record.frame = now_.load(std::memory_order_relaxed);
    record.outcome = Outcome::mix_lost;
    record.count = lost;
    journal_.write(record);
}

Load Core::load() const {
    constexpr int window = 5; // seconds
    Load load;
    times_.look(static_cast<Frames>(window) * settings_.rate, load);
    load.voices = voices_.load(std::memory_order_relaxed);
    load.most_voices = settings_.voices;
    load.streams = streaming_.load(std::memory_order_relaxed);
    load.most_streams = settings_.streams;
    load.most_reports = static_cast<int>(settings_.reports);
    load.most_scheduled = static_cast<int>(settings_.reports / 2);
    load.most_decisions = static_cast<int>(journal_.most());
    return load;
}

} // namespace kiai::mixer
