// Scripted input, step by step, for runs without a window. Each run is the same.
#pragma once

#include "bench.h"

#include <string>

namespace kiai::inline v0 {
class Engine;
}
class BenchSound;

/// Applies input to the bench. In the window the adapter reports input to the engine; in the script the first five
/// calls do.
class Hands {
  public:
    Hands(Bench& bench, BenchSound& sound) : bench_(bench), sound_(sound) {}

    void press(Place at);
    void release();
    void move(Place at);
    void gone();
    void key(const std::string& code, bool down);
    void lost();

    // What the bench itself does in response.
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

/// Applies the script's input for this step of a sixtieth of a second.
void follow_script(Hands& hands, int step);
constexpr int script_steps = 60 * 30;
