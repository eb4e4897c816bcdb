// Carries the app's calls into `render`: many writers, one reader, no lock.
#pragma once

#include "core/mixer/command.h"
#include "core/model/prefetch.h"

#include <atomic>
#include <cstdint>
#include <vector>

namespace kiai::mixer {

/// A bounded ring with a sequence number per slot (Vyukov 2010, here with one reader). A writer claims a slot, fills
/// it, then publishes it. A reader that meets a claimed slot before it is published treats it as the end, so it never
/// waits.
class CommandRing {
  public:
    /// [control] `capacity` is a power of two.
    explicit CommandRing(std::size_t capacity) : slots_(capacity), mask_(capacity - 1) {
        for (std::size_t i = 0; i < capacity; ++i) slots_[i].turn.store(i, std::memory_order_relaxed);
    }

    /// Returns the ticket, from 1; 0 if the ring is full. [any]
    std::uint64_t push(const Command& command) noexcept {
        std::uint64_t place = tail_.load(std::memory_order_relaxed);
        for (;;) {
            Slot& slot = slot_of(place);
            const std::uint64_t turn = slot.turn.load(std::memory_order_acquire);
            if (turn == place) {
                if (!tail_.compare_exchange_weak(place, place + 1, std::memory_order_relaxed)) continue;
                static_cast<Command&>(slot) = command;
                slot.ticket = place + 1;
                slot.turn.store(place + 1, std::memory_order_release);
                return place + 1;
            }
            if (turn < place) {
                lost_.fetch_add(1, std::memory_order_relaxed);
                return 0;
            }
            place = tail_.load(std::memory_order_relaxed);
        }
    }

    /// Returns the next command in its slot, which belongs to the reader until `release`; null if there is none. One
    /// thread. [rt]
    Command* take() noexcept {
        Slot& slot = slot_of(head_);
        if (slot.turn.load(std::memory_order_acquire) != head_ + 1) return nullptr;
        ++head_;
        model::prefetch_object(slot_of(head_ + ahead));
        return &slot;
    }
    /// Returns the slot of a taken command to the writers, in any order. Does not read it: that takes long when many
    /// commands were served since. [rt]
    void release(const Command& command) noexcept {
        const auto index = static_cast<std::uint64_t>(static_cast<const Slot*>(&command) - slots_.data());
        const std::uint64_t last = head_ - 1, place = last - ((last - index) & mask_);
        slot_of(place).turn.store(place + slots_.size(), std::memory_order_release);
    }

    /// Returns how many reports were refused since the last call. [rt]
    std::uint64_t take_lost() noexcept { return lost_.load(std::memory_order_relaxed) ? lost_.exchange(0) : 0; }
    /// Counts a report whose name did not fit into the table of names. [any]
    void lose_name() noexcept { unnamed_.fetch_add(1, std::memory_order_relaxed); }
    std::uint64_t take_unnamed() noexcept {
        return unnamed_.load(std::memory_order_relaxed) ? unnamed_.exchange(0) : 0;
    }

  private:
    static constexpr std::uint64_t ahead = 6; ///< slots; many reports may come at once, and no cache holds them all

    struct Slot : Command {
        std::atomic<std::uint64_t> turn{0};
    };
    Slot& slot_of(std::uint64_t place) noexcept { return slots_[static_cast<std::size_t>(place) & mask_]; }

    std::vector<Slot> slots_;
    std::size_t mask_;
    alignas(64) std::atomic<std::uint64_t> tail_{0};
    alignas(64) std::uint64_t head_ = 0;
    alignas(64) std::atomic<std::uint64_t> lost_{0}, unnamed_{0};
};

} // namespace kiai::mixer
