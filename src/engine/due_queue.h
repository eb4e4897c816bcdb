// Commands in the order in which they are served: by due frame, then by ticket.
#pragma once

#include "engine/command.h"

#include <algorithm>
#include <vector>

namespace kiai::engine {

class DueQueue {
  public:
    /// [control] Takes the memory for `capacity` commands; the caller never pushes more.
    explicit DueQueue(std::size_t capacity) : capacity_(capacity) { heap_.reserve(capacity); }

    bool full() const noexcept { return heap_.size() == capacity_; }
    int size() const noexcept { return static_cast<int>(heap_.size()); }
    bool empty() const noexcept { return heap_.empty(); }
    Frames next_due() const noexcept { return heap_.front().due; }

    void push(const Command& command) noexcept {
        heap_.push_back(command);
        std::push_heap(heap_.begin(), heap_.end(), later);
    }
    Command pop() noexcept {
        std::pop_heap(heap_.begin(), heap_.end(), later);
        const Command first = heap_.back();
        heap_.pop_back();
        return first;
    }

  private:
    static bool later(const Command& a, const Command& b) noexcept {
        return a.due != b.due ? a.due > b.due : a.ticket > b.ticket;
    }
    std::vector<Command> heap_;
    std::size_t capacity_;
};

} // namespace kiai::engine
