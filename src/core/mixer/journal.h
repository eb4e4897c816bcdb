// Holds the decisions of the render thread. If it is full, the newest are lost and counted.
#pragma once

#include "core/decisions/record.h"
#include "core/decisions/record_ring.h"
#include "core/mixer/command.h"

#include <atomic>
#include <memory>
#include <span>

namespace kiai::mixer {

class Journal {
  public:
    Journal(std::size_t records, std::size_t levels)
        : records_(records), levels_(levels ? levels : 1), keep_levels_(levels > 0) {}

    /// Starts a recording at the next snapshot, or stops it at once. [control]
    void record(bool on) {
        if (on && !served_) served_ = std::make_unique<decisions::RecordRing<Command>>(most_served);
        wanted_.store(on, std::memory_order_release);
        if (!on) recording_.store(false, std::memory_order_relaxed);
    }
    /// Writes everything that is served from here on. [rt]
    void begin_recording() noexcept { recording_.store(wanted_.load(std::memory_order_acquire)); }
    /// Writes a command that is being served, for a trace; `due` is its frame. [rt]
    void serve(const Command& command) noexcept {
        if (recording_.load(std::memory_order_relaxed) && !served_->push(command)) ++unrecorded_;
    }
    bool read_served(Command& into) noexcept { return served_ && served_->pop(into); }
    /// Returns how many did not fit, because nobody read them. [any]
    std::uint64_t unrecorded() const noexcept { return unrecorded_.load(std::memory_order_relaxed); }

    /// Writes a record that later records depend on. If there is no room, nothing else is written before it. Several
    /// that wait become one, with their count. [rt]
    void mark(const decisions::Record& record) noexcept {
        const std::uint64_t waiting = owed_.count;
        owed_ = record;
        owed_.count = waiting + 1;
        pay();
    }
    /// Writes a decision with its layers, or nothing. [rt]
    void write(const decisions::Record& record, std::span<const decisions::LayerRecord> layers = {}) noexcept {
        if (!pay() || records_.room() < 2 + layers.size()) { // one place is kept for the count of what was lost
            ++lost_;
            return;
        }
        if (lost_ > 0) {
            decisions::Record gap;
            gap.frame = record.frame;
            gap.outcome = Outcome::log_full;
            gap.count = lost_;
            lost_ = 0;
            records_.push(gap);
        }
        records_.push(record, layers);
    }
    void write_level(const PlayLevel& level) noexcept {
        if (keep_levels_) levels_.push(level);
    }
    /// Return how many decisions and layers wait, and the maximum. [rt]
    std::size_t waiting() const noexcept { return records_.size() - records_.room(); }
    std::size_t most() const noexcept { return records_.size(); }
    bool records_levels() const noexcept { return keep_levels_; }
    bool read(decisions::Record& into) noexcept { return read_as(into); }
    /// Reads a layer of the record that was read last. [control]
    bool read(decisions::LayerRecord& into) noexcept { return read_as(into); }
    bool read_level(PlayLevel& into) noexcept { return levels_.pop(into); }

  private:
    template<class Kind>
    bool read_as(Kind& into) noexcept {
        decisions::Entry entry;
        if (!records_.pop(entry)) return false;
        const Kind* const read = std::get_if<Kind>(&entry);
        if (read) into = *read;
        return read != nullptr;
    }
    bool pay() noexcept {
        if (owed_.count == 0) return true;
        if (!records_.push(owed_)) return false;
        owed_.count = 0;
        return true;
    }
    static constexpr std::size_t most_served = 1 << 13;

    decisions::RecordRing<decisions::Entry> records_;
    decisions::RecordRing<PlayLevel> levels_;
    std::unique_ptr<decisions::RecordRing<Command>> served_; ///< null until the first recording
    std::atomic<bool> recording_{false}, wanted_{false};
    std::atomic<std::uint64_t> unrecorded_{0};
    bool keep_levels_;
    std::uint64_t lost_ = 0;
    decisions::Record owed_;
};

} // namespace kiai::mixer
