#include "core/rules/touches.h"

namespace kiai::rules {

/// Returns the slot of a contact, or the free slot for it.
std::size_t Touches::place_of(std::uint64_t pair) const noexcept {
    std::size_t place = model::scatter(pair) & (slots_.size() - 1);
    while (slots_[place].pair != 0 && slots_[place].pair != pair) place = (place + 1) & (slots_.size() - 1);
    return place;
}

/// Closes the gap, so that later entries are still found.
void Touches::take_out(std::size_t hole) noexcept {
    const std::size_t mask = slots_.size() - 1;
    slots_[hole] = {};
    --used_;
    for (std::size_t at = (hole + 1) & mask; slots_[at].pair != 0; at = (at + 1) & mask) {
        const std::size_t home = model::scatter(slots_[at].pair) & mask;
        if (((at - home) & mask) < ((at - hole) & mask)) continue;
        slots_[hole] = slots_[at];
        slots_[at] = {};
        hole = at;
    }
}

void Touches::touch(Event event, std::uint64_t pair) noexcept {
    if (pair == 0) {
        hub_.happen(event);
        return;
    }
    Slot& slot = slots_[place_of(pair)];
    if (slot.pair == pair) {
        if (!slot.said) hub_.say(Outcome::same_state, event);
        slot.said = 1;
        return;
    }
    if (used_ * 4 >= slots_.size() * 3) return hub_.say(Outcome::no_room, event);
    slot.pair = pair;
    slot.kind = event.name;
    slot.other = event.other & 0x7fffffff;
    slot.strength = event.options.strength;
    slot.place = event.options.place;
    ++used_;
    event.holder = holder_of(ReportKind::contact, pair);
    hub_.happen(event);
}

void Touches::end(const Slot& touch, bool lost) noexcept {
    Event event;
    event.kind = ReportKind::contact_end;
    event.name = touch.kind;
    event.other = touch.other;
    event.quiet = true;
    event.lost = lost;
    hub_.over(holder_of(ReportKind::contact, touch.pair), event, hub_.happen(event));
}

void Touches::contact_end(std::uint64_t pair) noexcept {
    const std::size_t place = place_of(pair);
    if (pair == 0 || slots_[place].pair != pair) return; // it did not touch
    const Slot touch = slots_[place];
    take_out(place);
    end(touch, false);
}

void Touches::lose_all() noexcept {
    for (std::size_t place = 0; used_ > 0 && place < slots_.size();) {
        if (slots_[place].pair == 0) {
            ++place;
            continue;
        }
        const Slot touch = slots_[place];
        take_out(place); // another may have come to this place: it is looked at again
        end(touch, true);
    }
}

} // namespace kiai::rules
