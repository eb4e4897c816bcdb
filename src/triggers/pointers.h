// Pointers: where each is, and which zones it is in and holds pressed.
#pragma once

#include "triggers/happening.h"
#include "triggers/zones.h"

#include <array>

namespace kiai::triggers {

constexpr int most_pointers = 16;

class Pointers {
  public:
    Pointers(Zones& zones, Hub& hub) : zones_(zones), hub_(hub) {}

    void go_on_from(const Pointers& other) noexcept { pointers_ = other.pointers_; }

    void move(int pointer, Point point) noexcept;
    void press(int pointer, Point point) noexcept;
    void release(int pointer) noexcept;
    /// It is nowhere any more. [rt]
    void gone(int pointer, bool lost) noexcept;
    /// Zones have come, gone or moved: a pointer that stands still may be in others now. [rt]
    void look_again() noexcept;
    /// All presses and stays end. [rt]
    void lose_all() noexcept;

  private:
    struct Set {
        std::array<int, Zones::most_at_once> zones{};
        int count = 0;
        bool has(int zone) const noexcept;
    };
    struct Pointer {
        bool known = false, down = false, said = false;
        Point point;
        Set in, pressed;
    };
    Set zones_at(Point point) const noexcept;
    Happening of(ReportKind kind, int zone) const noexcept;
    void be_in(int number, const Set& now, bool lost) noexcept;
    void end_presses(int number, bool lost) noexcept;
    void end_press(int number, int zone, bool lost) noexcept;
    static Holder press_of(int pointer, int zone) noexcept;
    static Holder stay_of(int pointer, int zone) noexcept;

    Zones& zones_;
    Hub& hub_;
    std::array<Pointer, most_pointers> pointers_{};
};

} // namespace kiai::triggers
