// The bench as bodies: a hopper, an oak chute, brass pegs, a glass funnel, a paddle wheel, a plank and a tray. It knows
// nothing of sound and of windows. Places are in the units of kiai.toml, which are pixels.
#pragma once

#include <box2d/box2d.h>

#include <cstdint>
#include <map>
#include <memory>
#include <vector>

struct Place {
    float x = 0, y = 0;
};

struct Marble {
    std::uint64_t number = 0;
    b2Body* body = nullptr;
    int touching = 0; ///< things that it lies on or against
    bool in_tray = false;
};

/// Two bodies have begun to touch.
struct Contact {
    const char* kind;   ///< `marble`
    const char* other;  ///< `oak`, `brass`, `glass`, `marble`
    float strength = 0; ///< 1: about the hardest that the bench can strike
    float place = 0;    ///< -1 … 1, from left to right
    std::uint64_t pair = 0;
};

/// What came of one step.
struct Happened {
    std::vector<Contact> contacts;
    std::vector<std::uint64_t> aparts;
    std::vector<std::uint64_t> gone; ///< marbles
    bool run_complete = false;       ///< all that was dropped lies in the tray
    bool tray_emptied = false;
};

class Bench : b2ContactListener {
  public:
    static constexpr float step_seconds = 1 / 60.0f, marble_radius = 9;
    static constexpr int most_in_tray = 8;

    Bench();
    /// A sixtieth of a second.
    Happened step();

    /// False where the hopper is empty.
    bool drop();
    void tilt() { tilted_ = 30; }
    /// 1 oak, 2 brass, 3 glass: what the plank below the funnel is made of.
    void set_piece(int piece);
    /// While it is held, the lift carries marbles from the tray to the hopper.
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
    void BeginContact(b2Contact* contact) override;
    void EndContact(b2Contact* contact) override;
    void PostSolve(b2Contact* contact, const b2ContactImpulse* impulse) override;
    void carry();
    void look_at_tray();

    std::unique_ptr<b2World> world_;
    b2Body *wheel_ = nullptr, *plank_ = nullptr;
    std::vector<Marble> marbles_;
    std::map<b2Contact*, std::uint64_t> touching_; ///< with the number of its touch; 0: it has not struck yet
    Happened happened_;
    std::uint64_t pairs_ = 0, numbers_ = 0;
    int stock_ = 7, piece_ = 1, tilted_ = 0, dropped_ = 0, since_lift_ = 0;
    float turn_ = 0, lift_ = 0;
    bool lifting_ = false, was_filled_ = false;
};
