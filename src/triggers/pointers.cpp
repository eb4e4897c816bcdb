#include "triggers/pointers.h"

#include <algorithm>

namespace kiai::triggers {

bool Pointers::Set::has(int zone) const noexcept {
    return std::find(zones.begin(), zones.begin() + count, zone) != zones.begin() + count;
}

Pointers::Set Pointers::zones_at(Point point) const noexcept {
    Set set;
    set.count = zones_.at(point, set.zones);
    return set;
}

Happening Pointers::of(ReportKind kind, int zone) const noexcept {
    Happening happening;
    happening.kind = kind;
    happening.name = zones_.name(zone);
    happening.quiet = kind != ReportKind::press; // a press wants an answer; a pointer crosses many zones on its way
    return happening;
}

Holder Pointers::press_of(int pointer, int zone) noexcept {
    return holder_of(ReportKind::press,
                     static_cast<std::uint64_t>(zone) * most_pointers + static_cast<std::uint64_t>(pointer));
}

Holder Pointers::stay_of(int pointer, int zone) noexcept {
    return holder_of(ReportKind::enter,
                     static_cast<std::uint64_t>(zone) * most_pointers + static_cast<std::uint64_t>(pointer));
}

/// First it leaves, then it enters.
void Pointers::be_in(int number, const Set& now, bool lost) noexcept {
    Pointer& pointer = pointers_[static_cast<std::size_t>(number)];
    const Set before = pointer.in;
    pointer.in = now;
    for (int i = 0; i < before.count; ++i) {
        const int zone = before.zones[static_cast<std::size_t>(i)];
        if (now.has(zone)) continue;
        Happening left = of(ReportKind::leave, zone);
        left.lost = lost || !zones_.there(zone);
        hub_.over(stay_of(number, zone), left, hub_.happen(left));
    }
    for (int i = 0; i < now.count; ++i) {
        const int zone = now.zones[static_cast<std::size_t>(i)];
        if (before.has(zone)) continue;
        Happening entered = of(ReportKind::enter, zone);
        entered.holder = stay_of(number, zone);
        hub_.happen(entered);
    }
}

void Pointers::move(int number, Point point) noexcept {
    Pointer& pointer = pointers_[static_cast<std::size_t>(number)];
    pointer.known = true;
    pointer.point = point;
    be_in(number, zones_at(point), false);
}

void Pointers::press(int number, Point point) noexcept {
    Pointer& pointer = pointers_[static_cast<std::size_t>(number)];
    if (pointer.down) {
        Happening again;
        again.kind = ReportKind::press;
        again.point = point;
        if (const Set now = zones_at(point); now.count > 0) again.name = zones_.name(now.zones[0]);
        if (!pointer.said) hub_.say(Outcome::same_state, again);
        pointer.said = true;
        return;
    }
    move(number, point);
    pointer.down = true;
    pointer.said = false;
    pointer.pressed = pointer.in;
    if (pointer.pressed.count == 0) {
        Happening nowhere;
        nowhere.kind = ReportKind::press;
        nowhere.point = point;
        return hub_.say(Outcome::no_zone, nowhere);
    }
    const Set pressed = pointer.pressed; // what they cause may change it
    for (int i = 0; i < pressed.count; ++i) {
        const int zone = pressed.zones[static_cast<std::size_t>(i)];
        Happening press = of(ReportKind::press, zone);
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
    Happening released = of(ReportKind::release, zone);
    released.lost = lost;
    hub_.over(press_of(number, zone), released, hub_.happen(released));
}

void Pointers::release(int number) noexcept {
    end_presses(number, false);
}

void Pointers::gone(int number, bool lost) noexcept {
    Pointer& pointer = pointers_[static_cast<std::size_t>(number)];
    if (pointer.down) end_presses(number, true); // nobody let it go
    be_in(number, {}, lost);
    pointer.known = false;
}

void Pointers::look_again() noexcept {
    for (int number = 0; number < most_pointers; ++number) {
        Pointer& pointer = pointers_[static_cast<std::size_t>(number)];
        if (!pointer.known) continue;
        Set kept; // a press on a zone that is gone is over, without having been let go
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

} // namespace kiai::triggers
