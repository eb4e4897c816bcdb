#include "core/rules/pointers.h"

#include <algorithm>

namespace kiai::rules {

bool Pointers::Set::has(int zone) const noexcept {
    return std::find(zones.begin(), zones.begin() + count, zone) != zones.begin() + count;
}

Pointers::Set Pointers::zones_at(Point point) const noexcept {
    Set set;
    set.count = zones_.at(point, set.zones);
    return set;
}

Event Pointers::of(ReportKind kind, int zone) const noexcept {
    Event event;
    event.kind = kind;
    event.name = zones_.name(zone);
    event.quiet = kind != ReportKind::press; // a press wants an answer; a pointer crosses many zones on its way
    return event;
}

Holder Pointers::press_of(int pointer, int zone) noexcept {
    return holder_of(ReportKind::press,
                     static_cast<std::uint64_t>(zone) * most_pointers + static_cast<std::uint64_t>(pointer));
}

Holder Pointers::stay_of(int pointer, int zone) noexcept {
    return holder_of(ReportKind::enter,
                     static_cast<std::uint64_t>(zone) * most_pointers + static_cast<std::uint64_t>(pointer));
}

/// A pointer leaves before it enters.
void Pointers::be_in(int number, const Set& now, bool lost) noexcept {
    Pointer& pointer = pointers_[static_cast<std::size_t>(number)];
    const Set before = pointer.in;
    pointer.in = now;
    for (int i = 0; i < before.count; ++i) {
        const int zone = before.zones[static_cast<std::size_t>(i)];
        if (now.has(zone)) continue;
        Event left = of(ReportKind::leave, zone);
        left.lost = lost || !zones_.there(zone);
        hub_.over(stay_of(number, zone), left, hub_.happen(left));
    }
    for (int i = 0; i < now.count; ++i) {
        const int zone = now.zones[static_cast<std::size_t>(i)];
        if (before.has(zone)) continue;
        Event entered = of(ReportKind::enter, zone);
        entered.holder = stay_of(number, zone);
        hub_.happen(entered);
    }
}

/// Returns the slot of a pointer of the app; -1 if it has none.
int Pointers::find(std::uint64_t id) const noexcept {
    for (int number = 0; number < most_pointers; ++number)
        if (const Pointer& one = pointers_[static_cast<std::size_t>(number)]; one.known && one.id == id) return number;
    return -1;
}

/// The same, and a new pointer gets a free slot, or that of the pointer that was used longest ago and is not pressed.
/// Returns -1 if all are pressed.
int Pointers::claim(std::uint64_t id) noexcept {
    int place = find(id);
    for (int number = 0; number < most_pointers && place < 0; ++number)
        if (!pointers_[static_cast<std::size_t>(number)].known) place = number;
    if (place < 0) {
        for (int number = 0; number < most_pointers; ++number) {
            const Pointer& one = pointers_[static_cast<std::size_t>(number)];
            if (!one.down && (place < 0 || one.used < pointers_[static_cast<std::size_t>(place)].used)) place = number;
        }
        if (place < 0) return -1;
        gone(place, true);
    }
    Pointer& pointer = pointers_[static_cast<std::size_t>(place)];
    if (!pointer.known) pointer = {};
    pointer.id = id;
    pointer.used = ++uses_;
    pointer.known = true;
    return place;
}

void Pointers::move(int number, Point point) noexcept {
    pointers_[static_cast<std::size_t>(number)].point = point;
    be_in(number, zones_at(point), false);
}

void Pointers::move(std::uint64_t id, Point point) noexcept {
    if (const int number = claim(id); number >= 0) move(number, point);
}

void Pointers::press(std::uint64_t id, Point point, Frames now, int rate) noexcept {
    const int number = claim(id);
    Event pressed_now;
    pressed_now.kind = ReportKind::press;
    pressed_now.point = point;
    if (number < 0) return hub_.say(Outcome::no_room, pressed_now);
    Pointer& pointer = pointers_[static_cast<std::size_t>(number)];
    if (pointer.down) {
        const Set at = zones_at(point);
        if (at.count > 0) pressed_now.name = zones_.name(at.zones[0]);
        if (!pointer.said) hub_.say(Outcome::same_state, pressed_now);
        pointer.said = true;
        // A press in another zone cannot be the same press.
        const bool elsewhere = at.count > 0 && !pointer.pressed.has(at.zones[0]) && !pointer.in.has(at.zones[0]);
        if (pointer.repeats.again(now, rate, elsewhere)) hub_.say(Outcome::unended, pressed_now);
        return;
    }
    pointer.repeats.begin(now);
    move(number, point);
    pointer.down = true;
    pointer.pressed_at = point;
    pointer.said = false;
    pointer.pressed = pointer.in;
    if (pointer.pressed.count == 0) {
        return hub_.say(Outcome::no_zone, pressed_now);
    }
    const Set pressed = pointer.pressed; // what they cause may change it
    for (int i = 0; i < pressed.count; ++i) {
        const int zone = pressed.zones[static_cast<std::size_t>(i)];
        Event press = of(ReportKind::press, zone);
        press.point = point;
        press.holder = press_of(number, zone);
        hub_.happen(press);
    }
}

void Pointers::end_presses(int number, bool lost) noexcept {
    Pointer& pointer = pointers_[static_cast<std::size_t>(number)];
    pointer.down = false;
    pointer.said = false;
    const Set pressed = pointer.pressed;
    pointer.pressed = {};
    for (int i = 0; i < pressed.count; ++i) end_press(number, pressed.zones[static_cast<std::size_t>(i)], lost);
}

void Pointers::end_press(int number, int zone, bool lost) noexcept {
    Event released = of(ReportKind::release, zone);
    released.lost = lost;
    hub_.over(press_of(number, zone), released, hub_.happen(released));
}

void Pointers::release(std::uint64_t id) noexcept {
    if (const int number = find(id); number >= 0) end_presses(number, false);
}

void Pointers::gone(std::uint64_t id) noexcept {
    if (const int number = find(id); number >= 0) gone(number, false);
}

void Pointers::gone(int number, bool lost) noexcept {
    Pointer& pointer = pointers_[static_cast<std::size_t>(number)];
    if (pointer.down) end_presses(number, true); // it was not released
    be_in(number, {}, lost);
    pointer.known = false;
}

void Pointers::look_again() noexcept {
    for (int number = 0; number < most_pointers; ++number) {
        Pointer& pointer = pointers_[static_cast<std::size_t>(number)];
        if (!pointer.known) continue;
        Set kept; // a press on a removed zone is over without a release
        const Set pressed = pointer.pressed;
        for (int i = 0; i < pressed.count; ++i) {
            const int zone = pressed.zones[static_cast<std::size_t>(i)];
            if (zones_.there(zone))
                kept.zones[static_cast<std::size_t>(kept.count++)] = zone;
            else
                end_press(number, zone, true);
        }
        pointer.pressed = kept;
        be_in(number, zones_at(pointer.point), false);
    }
}

void Pointers::lose_all() noexcept {
    for (int number = 0; number < most_pointers; ++number)
        if (pointers_[static_cast<std::size_t>(number)].known) gone(number, true);
}

} // namespace kiai::rules
