// The bench as bodies: a hopper, an oak chute, brass pegs, a glass funnel, a paddle wheel, a plank and a tray. The
// bench knows nothing about windows. Of sound it knows only which bodies touch. Positions are in the units of
// kiai.toml, which are pixels.
#pragma once

#include <kiai/with/box2d.h>

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

struct Place {
    float x = 0, y = 0;
};

struct Marble {
    std::uint64_t number = 0;
    b2Body* body = nullptr;
    int touching = 0; ///< bodies that it touches
    bool in_tray = false;
};

/// Two bodies started to touch.
struct Strike {
    std::string kind;  ///< `marble`
    std::string other; ///< `oak`, `brass`, `glass`, `marble`
    kiai::Contact touch;
};

/// The result of one step.
struct Happened {
    void contact(const std::string& kind, const std::string& other, kiai::Contact touch) {
        strikes.push_back({kind, other, touch});
    }
    void contact_end(std::uint64_t pair) { aparts.push_back(pair); }

    std::vector<Strike> strikes;
    std::vector<std::uint64_t> aparts;
    std::vector<std::uint64_t> gone; ///< marbles
    bool run_complete = false;       ///< all dropped marbles are in the tray
    bool tray_emptied = false;
};

class Bench {
  public:
    static constexpr float step_seconds = 1 / 60.0f, marble_radius = 9;
    static constexpr int most_in_tray = 8;

    Bench();
    /// Advances the bench by a sixtieth of a second.
    Happened step();

    /// Drops a marble. Returns false if the hopper is empty.
    bool drop();
    void tilt() { tilted_ = 30; }
    /// Sets the material of the plank below the funnel: 1 oak, 2 brass, 3 glass.
    void set_piece(int piece);
    /// Starts or stops the lift, which carries marbles from the tray to the hopper.
    void hold_lift(bool held) { lifting_ = held; }

    const std::vector<Marble>& marbles() const { return marbles_; }
    Place place_of(const Marble& marble) const;
    float speed_of(const Marble& marble) const; ///< metres per second
    int stock() const { return stock_; }
    int in_tray() const;
    float fill() const { return std::min(1.0f, static_cast<float>(in_tray()) / most_in_tray); }
    int piece() const { return piece_; }
    float wheel_turn() const { return turn_; }  ///< parts of a turn, 0 … 1
    float lift_height() const { return lift_; } ///< 0 … 1
    bool lifting() const { return lifting_; }

  private:
    b2Body* add_line(const std::vector<Place>& points, const char* kind);
    void carry();
    void look_at_tray();

    std::unique_ptr<b2World> world_;
    b2Body *wheel_ = nullptr, *plank_ = nullptr;
    std::vector<Marble> marbles_;
    Happened happened_;
    kiai::with::Box2dContacts<Happened> contacts_;
    std::uint64_t numbers_ = 0;
    int stock_ = 7, piece_ = 1, tilted_ = 0, dropped_ = 0, since_lift_ = 0;
    float turn_ = 0, lift_ = 0;
    bool lifting_ = false, was_filled_ = false;
};
