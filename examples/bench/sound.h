// The bench's only code that deals with sound.
#pragma once

#include "bench.h"

#include <kiai/workshop/workshop.h>

#include <deque>
#include <map>
#include <string>

class BenchSound {
  public:
    /// `seed` 0: each run is different.
    BenchSound(const kiai::Project& project, std::uint64_t seed);

    kiai::Engine& engine() { return engine_; }
    /// Reports the result of a step and the state of the bench. Call it once per frame.
    void hear(const Bench& bench, const Happened& happened);
    /// Opens the parts drawer, or returns to the bench.
    void open_drawer(bool open);
    /// Returns the last decisions as text, to be shown.
    const std::deque<std::string>& log() const { return log_; }
    /// Also writes each decision to `out`; null: does not.
    void write_log_to(std::ostream* out) { out_ = out; }

  private:
    void roll(const Bench& bench);

    kiai::Engine engine_;
    struct Roll {
        kiai::Play play;
        bool on = false; ///< it was started, though it may have been stolen
        int steps = 0;   ///< that it has rolled; below 0: that it has been in the air
    };
    std::map<std::uint64_t, Roll> rolls_; ///< by the marble's number
    int stock_ = -1;                      ///< last reported value
    float fill_ = -1;
    bool drawer_ = false;
    std::deque<std::string> log_;
    std::ostream* out_ = nullptr;
};
