// The answers to questions about plays from any thread: a table of slots, each used by one play after another.
#pragma once

#include "core/mixer/command.h"

#include <kiai/decision.h>

#include <algorithm>
#include <atomic>
#include <vector>

namespace kiai::mixer {

class Handles {
  public:
    /// [control]
    explicit Handles(std::size_t slots) : slots_(slots) {}

    struct Handle {
        std::uint32_t slot = no_handle;
        std::uint32_t generation = 0;
    };

    /// Returns a slot whose last play has ended, or `no_handle` if there is none. [any]
    Handle claim() noexcept {
        for (std::size_t tries = 0; tries < slots_.size(); ++tries) {
            const std::size_t at = hint_.fetch_add(1, std::memory_order_relaxed) % slots_.size();
            std::uint64_t seen = slots_[at].word.load(std::memory_order_relaxed);
            if (state_of(seen) != PlayState::ended) continue;
            const std::uint32_t generation = generation_of(seen) + 1;
            if (slots_[at].word.compare_exchange_strong(seen, pack(generation, PlayState::asked, EndReason::none))) {
                slots_[at].begin.store(0, std::memory_order_relaxed);
                slots_[at].stood_at.store(0, std::memory_order_relaxed);
                slots_[at].number.store(0, std::memory_order_relaxed);
                slots_[at].name.store(model::no_name, std::memory_order_relaxed);
                slots_[at].place_rate.store(0, std::memory_order_relaxed);
                slots_[at].turns_left.store(0, std::memory_order_relaxed);
                return {static_cast<std::uint32_t>(at), generation};
            }
        }
        return {};
    }
    /// The play has ended at a frame, or will never start. [any]
    void end(Handle handle, EndReason reason, Frames at = 0) noexcept {
        if (!playing(handle)) return; // it is over already, and its slot may serve another
        slots_[handle.slot].stood_at.store(at, std::memory_order_relaxed);
        set(handle, PlayState::ended, reason);
    }
    /// `begin`: the start, moved by the time of pauses; `stood_at`: the start of the present pause. [rt]
    void tell(Handle handle, PlayState state, Frames begin, Frames stood_at = 0) noexcept {
        if (!playing(handle)) return;
        slots_[handle.slot].begin.store(begin, std::memory_order_relaxed);
        slots_[handle.slot].stood_at.store(stood_at, std::memory_order_relaxed);
        set(handle, state, EndReason::none);
    }
    /// Sets the name by which the sound was requested. [any]
    void set_name(Handle handle, model::NameId name) noexcept {
        if (handle.slot < slots_.size()) slots_[handle.slot].name.store(name, std::memory_order_relaxed);
    }
    /// Sets the number in the log of the play that has started. [rt]
    void set_number(Handle handle, std::uint32_t number) noexcept {
        if (playing(handle)) slots_[handle.slot].number.store(number, std::memory_order_relaxed);
    }
    /// Return both, if the slot was not used again; else `no_name` and 0. [any]
    model::NameId name(Handle handle) const noexcept {
        return is_last(handle) ? slots_[handle.slot].name.load(std::memory_order_relaxed) : model::no_name;
    }
    std::uint32_t number(Handle handle) const noexcept {
        return is_last(handle) ? slots_[handle.slot].number.load(std::memory_order_relaxed) : 0;
    }
    /// Sets the play's frame in its clip, the clip's rate and how many turns follow; -1: endless. [rt]
    void tell_place(Handle handle, std::int64_t frame, int rate, int turns_left) noexcept {
        if (handle.slot >= slots_.size()) return;
        Slot& slot = slots_[handle.slot];
        slot.place.store(frame, std::memory_order_relaxed);
        slot.place_rate.store(rate, std::memory_order_relaxed);
        slot.turns_left.store(turns_left, std::memory_order_relaxed);
    }
    /// Returns true once somebody asked for a position: only then are positions tracked, because that has a cost. [rt]
    bool places_wanted() const noexcept { return places_wanted_.load(std::memory_order_relaxed); }
    void want_places() noexcept { places_wanted_.store(true, std::memory_order_relaxed); }
    /// Returns true if the position of the play is known. [any]
    bool has_place(Handle handle) const noexcept {
        return is_last(handle) && slots_[handle.slot].place_rate.load(std::memory_order_relaxed) > 0;
    }
    /// Returns the position in seconds; requires has_place. [any]
    double place(Handle handle) const noexcept {
        const Slot& slot = slots_[handle.slot];
        return static_cast<double>(slot.place.load(std::memory_order_relaxed)) /
               slot.place_rate.load(std::memory_order_relaxed);
    }
    int turns_left(Handle handle) const noexcept {
        return is_last(handle) ? slots_[handle.slot].turns_left.load(std::memory_order_relaxed) : 0;
    }
    /// The play was requested, to start at a frame. [rt]
    void ask(Handle handle, Frames begin) noexcept {
        if (state(handle) == PlayState::asked) slots_[handle.slot].begin.store(begin, std::memory_order_relaxed);
    }
    /// Returns the requested start; a frame before all others if the play has started or does not exist. [rt]
    Frames asked_for(Handle handle) const noexcept {
        return state(handle) == PlayState::asked ? slots_[handle.slot].begin.load(std::memory_order_relaxed) : -1;
    }
    PlayState state(Handle handle) const noexcept {
        const std::uint64_t word = of(handle);
        return generation_of(word) == handle.generation ? state_of(word) : PlayState::ended;
    }
    bool playing(Handle handle) const noexcept { return state(handle) != PlayState::ended; }
    EndReason reason(Handle handle) const noexcept {
        const std::uint64_t word = of(handle);
        return generation_of(word) == handle.generation ? static_cast<EndReason>(word & 0xff) : EndReason::none;
    }
    /// Returns how many frames were heard at `now`, or in all after the end. [any]
    Frames elapsed(Handle handle, Frames now) const noexcept {
        const PlayState state = this->state(handle);
        if (handle.slot >= slots_.size() || state == PlayState::asked) return 0;
        const bool moves = state == PlayState::playing || state == PlayState::fading;
        const Frames at = moves ? now : slots_[handle.slot].stood_at.load(std::memory_order_relaxed);
        return std::max<Frames>(0, at - slots_[handle.slot].begin.load(std::memory_order_relaxed));
    }
    /// Returns the frame at which the play ended. [any]
    Frames ended_at(Handle handle) const noexcept {
        return handle.slot < slots_.size() ? slots_[handle.slot].stood_at.load(std::memory_order_relaxed) : 0;
    }
    std::size_t size() const noexcept { return slots_.size(); }

  private:
    struct Slot {
        std::atomic<std::uint64_t> word{0}; ///< which use of it, state, reason of the end
        std::atomic<Frames> begin{0}, stood_at{0};
        std::atomic<std::uint32_t> number{0};
        std::atomic<model::NameId> name{model::no_name};
        std::atomic<std::int64_t> place{0};
        std::atomic<int> place_rate{0};
        std::atomic<int> turns_left{0};
    };
    bool is_last(Handle handle) const noexcept {
        return handle.slot < slots_.size() && generation_of(of(handle)) == handle.generation;
    }
    static std::uint64_t pack(std::uint32_t generation, PlayState state, EndReason reason) noexcept {
        return static_cast<std::uint64_t>(generation) << 32 | static_cast<std::uint64_t>(state) << 8 |
               static_cast<std::uint64_t>(reason);
    }
    static std::uint32_t generation_of(std::uint64_t word) noexcept { return static_cast<std::uint32_t>(word >> 32); }
    static PlayState state_of(std::uint64_t word) noexcept { return static_cast<PlayState>(word >> 8 & 0xff); }
    /// Works only while the slot has this use: an old handle changes nothing.
    void set(Handle handle, PlayState state, EndReason reason) noexcept {
        std::atomic<std::uint64_t>& word = slots_[handle.slot].word;
        std::uint64_t seen = word.load(std::memory_order_relaxed);
        while (generation_of(seen) == handle.generation && state_of(seen) != PlayState::ended)
            if (word.compare_exchange_weak(seen, pack(handle.generation, state, reason), std::memory_order_acq_rel))
                return;
    }
    std::uint64_t of(Handle handle) const noexcept {
        return handle.slot < slots_.size() ? slots_[handle.slot].word.load(std::memory_order_acquire) : 0;
    }

    std::vector<Slot> slots_;
    std::atomic<std::size_t> hint_{0};
    std::atomic<bool> places_wanted_{false};
};

} // namespace kiai::mixer
