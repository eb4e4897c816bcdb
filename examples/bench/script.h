// What somebody does at the bench, step by step: for runs without a window, which are the same each time.
#pragma once

#include "bench.h"

#include <string>

namespace kiai::inline v0 {
class Engine;
}
class BenchSound;

/// The input of one moment. Of the window's the adapter tells the engine; of the script's the first five calls do.
class Hands {
  public:
    Hands(Bench& bench, BenchSound& sound) : bench_(bench), sound_(sound) {}

    void press(Place at);
    void release();
    void move(Place at);
    void gone();
    void key(const std::string& code, bool down);
    void lost();

    // What the bench itself does for it.
    void pressed(Place at);
    void released() { bench_.hold_lift(false); }
    void key_went_down(const std::string& code);
    bool drawer() const { return drawer_; }

  private:
    void choose(int piece);

    Bench& bench_;
    BenchSound& sound_;
    bool drawer_ = false;
};

/// Does what the script says for this step of a sixtieth of a second.
void follow_script(Hands& hands, int step);
constexpr int script_steps = 60 * 30;
