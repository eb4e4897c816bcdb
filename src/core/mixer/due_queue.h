// Commands in the order in which they are served: by due frame, then by ticket.
#pragma once

#include "core/mixer/command.h"

#include <algorithm>
#include <numeric>
#include <vector>

namespace kiai::mixer {

/// What comes in order, as nearly all does, is appended to a line; only what is due before the last of that line goes
/// through a heap. Commands lie still meanwhile: what moves are their places.
class DueQueue {
  public:
    /// [control] Takes the memory for `capacity` commands; the caller never pushes more.
    explicit DueQueue(std::size_t capacity) : commands_(capacity), free_(capacity), line_(capacity) {
        std::iota(free_.rbegin(), free_.rend(), 0u);
        heap_.reserve(capacity);
    }

    bool full() const noexcept { return free_.empty(); }
    int size() const noexcept { return static_cast<int>(commands_.size() - free_.size()); }
    bool empty() const noexcept { return free_.size() == commands_.size(); }
    const Command& next() const noexcept { return commands_[first()]; }

    void push(const Command& command) noexcept {
        const Place place = free_.back();
        free_.pop_back();
        commands_[place] = command;
        if (count_ == 0 || !later(line_[(head_ + count_ - 1) % line_.size()], place)) {
            line_[(head_ + count_++) % line_.size()] = place;
        } else {
            heap_.push_back(place);
            std::push_heap(heap_.begin(), heap_.end(), [this](Place a, Place b) { return later(a, b); });
        }
    }
    /// Lies still until the next `push`.
    const Command& pop() noexcept {
        const Place place = first();
        if (count_ > 0 && place == line_[head_]) {
            head_ = (head_ + 1) % line_.size();
            --count_;
        } else {
            std::pop_heap(heap_.begin(), heap_.end(), [this](Place a, Place b) { return later(a, b); });
            heap_.pop_back();
        }
        free_.push_back(place);
        return commands_[place];
    }

  private:
    using Place = std::uint32_t;

    bool later(Place a, Place b) const noexcept {
        const Command &one = commands_[a], &other = commands_[b];
        return one.due != other.due ? one.due > other.due : one.ticket > other.ticket;
    }
    Place first() const noexcept {
        if (count_ == 0) return heap_.front();
        return heap_.empty() || !later(line_[head_], heap_.front()) ? line_[head_] : heap_.front();
    }

    std::vector<Command> commands_;
    std::vector<Place> free_;
    std::vector<Place> line_; ///< a ring: `count_` of them from `head_` on, in order
    std::size_t head_ = 0, count_ = 0;
    std::vector<Place> heap_;
};

} // namespace kiai::mixer
