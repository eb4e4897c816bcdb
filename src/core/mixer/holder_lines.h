// Finds the plays that a press, key, stay, contact, watch or scope holds, without a search through all plays.
#pragma once

#include "core/model/chance.h"

#include <bit>
#include <cstddef>
#include <cstdint>
#include <vector>

namespace kiai::mixer {

/// Indices of plays from the oldest to the newest; -1: none.
struct PlayLine {
    int oldest = -1, newest = -1;
};

/// A table of lines by holder, with open addressing. An empty line is removed.
class HolderLines {
  public:
    /// Allocates memory for `plays` lines. [control]
    explicit HolderLines(std::size_t plays) : slots_(std::bit_ceil(2 * plays)) {}

    /// Returns the line of a holder, or null. [rt]
    PlayLine* find(std::uint64_t holder) noexcept {
        Slot& slot = slots_[place_of(holder)];
        return slot.holder == holder ? &slot.line : nullptr;
    }
    /// Returns the line of a holder, which is empty if the holder is new. There are at most as many lines as plays.
    /// [rt]
    PlayLine& at(std::uint64_t holder) noexcept {
        Slot& slot = slots_[place_of(holder)];
        slot.holder = holder;
        return slot.line;
    }
    /// Removes the line of a holder, and closes the gap so that later lines are still found. [rt]
    void remove(std::uint64_t holder) noexcept {
        const std::size_t mask = slots_.size() - 1;
        std::size_t hole = place_of(holder);
        if (slots_[hole].holder != holder) return;
        slots_[hole] = {};
        for (std::size_t at = (hole + 1) & mask; slots_[at].holder != 0; at = (at + 1) & mask) {
            const std::size_t home = model::scatter(slots_[at].holder) & mask;
            if (((at - home) & mask) < ((at - hole) & mask)) continue;
            slots_[hole] = slots_[at];
            slots_[at] = {};
            hole = at;
        }
    }

  private:
    struct Slot {
        std::uint64_t holder = 0; ///< 0: free
        PlayLine line;
    };
    std::size_t place_of(std::uint64_t holder) const noexcept {
        std::size_t place = model::scatter(holder) & (slots_.size() - 1);
        while (slots_[place].holder != 0 && slots_[place].holder != holder) place = (place + 1) & (slots_.size() - 1);
        return place;
    }

    std::vector<Slot> slots_;
};

} // namespace kiai::mixer
