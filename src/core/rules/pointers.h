// Pointers: the position of each, and the zones that it is in and presses.
#pragma once

#include "core/rules/event.h"
#include "core/rules/repeats.h"
#include "core/rules/zones.h"

#include <array>

namespace kiai::rules {

constexpr int most_pointers = 32; ///< at once; their numbers are the app's

class Pointers {
  public:
    Pointers(Zones& zones, Hub& hub) : zones_(zones), hub_(hub) {}

    void go_on_from(const Pointers& other) noexcept {
        pointers_ = other.pointers_;
        uses_ = other.uses_;
    }

    void move(std::uint64_t pointer, Point point) noexcept;
    void press(std::uint64_t pointer, Point point, Frames now, int rate) noexcept;
    void release(std::uint64_t pointer) noexcept;
    /// The pointer left the window, or the finger was lifted. [rt]
    void gone(std::uint64_t pointer) noexcept;
    /// Zones appeared, disappeared or moved, so a resting pointer may be in other zones. [rt]
    void look_again() noexcept;
    /// Calls `use` with each pointer: the app's number, whether it is down, where it was pressed, where it is. [rt]
    template<class Use>
    void for_each(const Use& use) const noexcept {
        for (const Pointer& one : pointers_)
            if (one.known) use(one.id, one.down, one.pressed_at, one.point);
    }
    /// Ends all presses and stays. [rt]
    void lose_all() noexcept;

  private:
    struct Set {
        std::array<int, Zones::most_at_once> zones{};
        int count = 0;
        bool has(int zone) const noexcept;
    };
    struct Pointer {
        std::uint64_t id = 0; ///< the app's number
        std::uint64_t used = 0;
        bool known = false, down = false, said = false;
        Repeats repeats;
        Point point, pressed_at;
        Set in, pressed;
    };
    int find(std::uint64_t id) const noexcept;
    int claim(std::uint64_t id) noexcept;
    void move(int number, Point point) noexcept;
    void gone(int number, bool lost) noexcept;
    Set zones_at(Point point) const noexcept;
    Event of(ReportKind kind, int zone) const noexcept;
    void be_in(int number, const Set& now, bool lost) noexcept;
    void end_presses(int number, bool lost) noexcept;
    void end_press(int number, int zone, bool lost) noexcept;
    static Holder press_of(int pointer, int zone) noexcept;
    static Holder stay_of(int pointer, int zone) noexcept;

    Zones& zones_;
    Hub& hub_;
    std::array<Pointer, most_pointers> pointers_{};
    std::uint64_t uses_ = 0;
};

} // namespace kiai::rules
