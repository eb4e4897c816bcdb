// Commands in the order in which they are served: by due frame, then by ticket.
#pragma once

#include "core/mixer/command.h"

#include <algorithm>
#include <functional>
#include <numeric>
#include <vector>

namespace kiai::mixer {

/// A command and when it is due, so that mostly the order is known without reading the command.
struct Waiting {
    Waiting() = default;
    explicit Waiting(const Command& of) noexcept : due(of.due), command(&of) {}

    Frames due = 0;
    const Command* command = nullptr;
    bool before(const Waiting& other) const noexcept {
        return due != other.due ? due < other.due : command->ticket < other.command->ticket;
    }
};

/// Nearly all commands arrive in order and are appended to a line. Only a command due before the last of the line goes
/// through a heap. The queue does not own the commands.
class DueQueue {
  public:
    /// [control] Allocates memory for `capacity` commands, a power of two; the caller never pushes more.
    explicit DueQueue(std::size_t capacity) : line_(capacity) { heap_.reserve(capacity); }

    int size() const noexcept { return static_cast<int>(count_ + heap_.size()); }
    bool empty() const noexcept { return count_ == 0 && heap_.empty(); }
    Waiting next() const noexcept { return line_first() ? at(0) : Waiting(*heap_.front()); }

    void push(const Command& command) noexcept {
        const Waiting waiting(command);
        if (count_ == 0 || at(count_ - 1).before(waiting)) {
            at(count_++) = waiting;
        } else {
            heap_.push_back(&command);
            std::push_heap(heap_.begin(), heap_.end(), later);
        }
    }
    const Command* pop() noexcept {
        if (line_first()) {
            const Command* const first = at(0).command;
            ++head_;
            --count_;
            return first;
        }
        std::pop_heap(heap_.begin(), heap_.end(), later);
        const Command* const first = heap_.back();
        heap_.pop_back();
        return first;
    }

  private:
    static bool later(const Command* one, const Command* other) noexcept {
        return Waiting(*other).before(Waiting(*one));
    }
    /// Returns true if the first of the line is the first of all; the queue must not be empty.
    bool line_first() const noexcept { return count_ > 0 && (heap_.empty() || at(0).before(Waiting(*heap_.front()))); }
    Waiting& at(std::size_t place) noexcept { return line_[(head_ + place) & (line_.size() - 1)]; }
    const Waiting& at(std::size_t place) const noexcept { return line_[(head_ + place) & (line_.size() - 1)]; }

    std::vector<Waiting> line_; ///< a ring: `count_` of them from `head_` on, in order
    std::size_t head_ = 0, count_ = 0;
    std::vector<const Command*> heap_;
};

/// Commands that have left the ring.
class CommandPool {
  public:
    /// [control] Allocates memory for `capacity` commands.
    explicit CommandPool(std::size_t capacity) : commands_(capacity), free_(capacity) {
        std::iota(free_.rbegin(), free_.rend(), 0u);
    }
    bool full() const noexcept { return free_.empty(); }
    /// Keeps a copy of a command until `release`; the pool must not be full.
    const Command* keep(const Command& command) noexcept {
        Command& kept = commands_[free_.back()];
        free_.pop_back();
        return &(kept = command);
    }
    bool owns(const Command* command) const noexcept {
        return !std::less<>()(command, commands_.data()) && std::less<>()(command, commands_.data() + commands_.size());
    }
    void release(const Command* command) noexcept {
        free_.push_back(static_cast<std::uint32_t>(command - commands_.data()));
    }

  private:
    std::vector<Command> commands_;
    std::vector<std::uint32_t> free_;
};

} // namespace kiai::mixer
