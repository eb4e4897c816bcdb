// Bodies in contact. With a number for the pair, repeated reports until the end are one contact.
#pragma once

#include "core/rules/event.h"

#include <vector>

namespace kiai::rules {

class Touches {
  public:
    /// [control] Allocates memory for `most` contacts at a time, a power of two.
    Touches(Hub& hub, std::size_t most) : hub_(hub), slots_(most) {}

    void go_on_from(Touches& other) noexcept {
        slots_.swap(other.slots_);
        used_ = other.used_;
    }
    /// `event` is the contact. [rt]
    void touch(Event event, std::uint64_t pair) noexcept;
    void contact_end(std::uint64_t pair) noexcept;
    /// Calls `use` with each contact: pair, kinds, strength and place. [rt]
    template<class Use>
    void for_each(const Use& use) const noexcept {
        for (const Slot& slot : slots_)
            if (slot.pair != 0) use(slot.pair, slot.kind, slot.other, slot.strength, slot.place);
    }
    /// Ends all contacts. [rt]
    void lose_all() noexcept;

  private:
    struct Slot {
        std::uint64_t pair = 0; ///< 0: empty
        model::NameId kind = model::no_name;
        model::NameId other : 31 = model::no_name;
        model::NameId said : 1 = 0; ///< that it was reported again
        float strength = 1, place = 0;
    };
    std::size_t place_of(std::uint64_t pair) const noexcept;
    void take_out(std::size_t place) noexcept;
    void end(const Slot& touch, bool lost) noexcept;

    Hub& hub_;
    std::vector<Slot> slots_; ///< open addressing
    std::size_t used_ = 0;
};

} // namespace kiai::rules
