// What a Play can be asked from any thread: a table of slots, each used by one play after another.
#pragma once

#include "engine/command.h"

#include <kiai/decision.h>

#include <atomic>
#include <vector>

namespace kiai::engine {

class Handles {
  public:
    /// [control]
    explicit Handles(std::size_t slots) : slots_(slots) {}

    struct Handle {
        std::uint32_t slot = no_handle;
        std::uint32_t generation = 0;
    };

    /// A slot whose last play has ended, or `no_handle` where all play. [any]
    Handle claim() noexcept {
        for (std::size_t tries = 0; tries < slots_.size(); ++tries) {
            const std::size_t at = hint_.fetch_add(1, std::memory_order_relaxed) % slots_.size();
            std::uint64_t seen = slots_[at].load(std::memory_order_relaxed);
            if ((seen & playing_bit) != 0) continue;
            const std::uint32_t generation = generation_of(seen) + 1;
            if (slots_[at].compare_exchange_strong(seen, pack(generation, EndReason::none) | playing_bit))
                return {static_cast<std::uint32_t>(at), generation};
        }
        return {};
    }
    /// Its play has ended, or was refused (`none`). [any]
    void end(Handle handle, EndReason reason) noexcept {
        if (handle.slot < slots_.size())
            slots_[handle.slot].store(pack(handle.generation, reason), std::memory_order_release);
    }
    bool playing(Handle handle) const noexcept {
        const std::uint64_t state = of(handle);
        return generation_of(state) == handle.generation && (state & playing_bit) != 0;
    }
    EndReason reason(Handle handle) const noexcept {
        const std::uint64_t state = of(handle);
        return generation_of(state) == handle.generation ? static_cast<EndReason>(state & 0xff) : EndReason::none;
    }
    std::size_t size() const noexcept { return slots_.size(); }

  private:
    static constexpr std::uint64_t playing_bit = 1u << 8;
    static std::uint64_t pack(std::uint32_t generation, EndReason reason) noexcept {
        return static_cast<std::uint64_t>(generation) << 32 | static_cast<std::uint64_t>(reason);
    }
    static std::uint32_t generation_of(std::uint64_t state) noexcept { return static_cast<std::uint32_t>(state >> 32); }
    std::uint64_t of(Handle handle) const noexcept {
        return handle.slot < slots_.size() ? slots_[handle.slot].load(std::memory_order_acquire) : 0;
    }

    std::vector<std::atomic<std::uint64_t>> slots_;
    std::atomic<std::size_t> hint_{0};
};

} // namespace kiai::engine
