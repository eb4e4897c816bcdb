// Carries fixed-size records out of `render`: one writer, one reader.
#pragma once

#include "core/model/prefetch.h"

#include <atomic>
#include <cstddef>
#include <span>
#include <vector>

namespace kiai::decisions {

template<class Record>
class RecordRing {
  public:
    /// [control] `capacity` is a power of two.
    explicit RecordRing(std::size_t capacity) : records_(capacity) {}

    std::size_t size() const noexcept { return records_.size(); }
    std::size_t room() const noexcept {
        return records_.size() - (tail_.load(std::memory_order_relaxed) - head_.load(std::memory_order_acquire));
    }
    /// Writes a record and those that belong to it: the reader sees all of them or none. Returns false if there is no
    /// room. [rt]
    template<class First = Record, class Rest = Record>
    bool push(const First& record, std::span<const Rest> rest = {}) noexcept {
        if (room() < 1 + rest.size()) return false;
        const std::size_t tail = tail_.load(std::memory_order_relaxed), last = records_.size() - 1;
        model::prefetch_object(records_[(tail + ahead) & last]);
        records_[tail & last] = record;
        for (std::size_t i = 0; i < rest.size(); ++i) records_[(tail + 1 + i) & last] = rest[i];
        tail_.store(tail + 1 + rest.size(), std::memory_order_release);
        return true;
    }
    /// Returns false if the ring is empty. [control]
    bool pop(Record& into) noexcept {
        const std::size_t head = head_.load(std::memory_order_relaxed);
        if (head == tail_.load(std::memory_order_acquire)) return false;
        into = records_[head & (records_.size() - 1)];
        head_.store(head + 1, std::memory_order_release);
        return true;
    }

  private:
    static constexpr std::size_t ahead = 6; ///< records; many may be written at once, and no cache holds them all

    std::vector<Record> records_;
    alignas(64) std::atomic<std::size_t> tail_{0};
    alignas(64) std::atomic<std::size_t> head_{0};
};

} // namespace kiai::decisions
