// The events that are due at a frame of the clock: timers, and waiting steps of sequences.
#pragma once

#include <kiai/units.h>

#include <algorithm>
#include <atomic>
#include <cstdint>
#include <limits>
#include <vector>

namespace kiai::rules {

class Agenda {
  public:
    static constexpr Frames never = std::numeric_limits<Frames>::max();
    struct Entry {
        enum class Kind : std::uint8_t { timer, branch } kind = Kind::timer;
        int number = 0; ///< of the binding, or of the branch
        int scope = -1; ///< that it is paused and ends with
        Frames due = 0; ///< while it is paused: how long is left
        std::uint64_t order = 0;
    };
    /// [control] Allocates memory for a timer of each binding and for the branches; there are never more entries.
    Agenda(std::size_t bindings, std::size_t branches);

    void add(Entry::Kind kind, int number, int scope, Frames due) noexcept;
    /// Takes over the remaining entries. `number_of` returns the new number, or -1 for removed ones. [rt]
    template<class NumberOf>
    void go_on_from(const Agenda& other, const NumberOf& number_of) noexcept {
        const auto take = [&](const std::vector<Entry>& from, std::vector<Entry>& into) {
            for (const Entry& entry : from)
                if (const int number = number_of(entry); number >= 0) {
                    into.push_back(entry);
                    into.back().number = number;
                }
        };
        take(other.heap_, heap_);
        take(other.standing_, standing_);
        for (const Entry& entry : heap_) show(entry, entry.due);
        for (const Entry& entry : standing_) show(entry, -1 - entry.due);
        std::make_heap(heap_.begin(), heap_.end(), later);
        order_ = other.order_;
    }
    /// Returns when the timer of a binding is due. `never`: it does not wait; -1 - n: it is paused with n frames left.
    /// [any]
    Frames timer(std::size_t binding) const noexcept { return timers_[binding].load(std::memory_order_relaxed); }
    Frames next() const noexcept { return heap_.empty() ? never : heap_.front().due; }
    /// Returns the entry that is due first; ties: the one added first. [rt]
    Entry take() noexcept;
    void remove(Entry::Kind kind, int number) noexcept;
    void remove_scope(int scope) noexcept;
    void remove_timers() noexcept;
    /// The entries of a scope keep the rest of their time until the scope continues. [rt]
    void pause(int scope, Frames now) noexcept;
    void resume(int scope, Frames now) noexcept;

  private:
    static bool later(const Entry& a, const Entry& b) noexcept {
        return a.due != b.due ? a.due > b.due : a.order > b.order;
    }
    template<class Test>
    void remove_if(const Test& test) noexcept;
    void show(const Entry& entry, Frames due) noexcept {
        if (entry.kind == Entry::Kind::timer)
            timers_[static_cast<std::size_t>(entry.number)].store(due, std::memory_order_relaxed);
    }

    std::vector<Entry> heap_, standing_;
    std::vector<std::atomic<Frames>> timers_; ///< by binding; other threads may ask
    std::uint64_t order_ = 0;
};

} // namespace kiai::rules
