// All that the bench has to do with sound.
#pragma once

#include "bench.h"

#include <kiai/workshop/workshop.h>

#include <deque>
#include <map>
#include <string>

class BenchSound {
  public:
    /// `seed` 0: another run each time.
    BenchSound(const kiai::Project& project, std::uint64_t seed);

    kiai::Engine& engine() { return engine_; }
    /// The result of a step of the bench, and how it stands now. Once a frame.
    void hear(const Bench& bench, const Happened& happened);
    /// Out of the bench and into the parts drawer, or back.
    void open_drawer(bool open);
    /// The last decisions, for whoever wants to see them.
    const std::deque<std::string>& log() const { return log_; }
    /// Where each decision is written, too; null: nowhere.
    void write_log_to(std::ostream* out) { out_ = out; }

  private:
    void roll(const Bench& bench);

    kiai::Engine engine_;
    struct Roll {
        kiai::Play play;
        bool on = false; ///< it was begun, though it may have been stolen
        int steps = 0;   ///< that it has rolled; below 0: that it has been in the air
    };
    std::map<std::uint64_t, Roll> rolls_; ///< by the marble's number
    int stock_ = -1;                      ///< last reported value
    float fill_ = -1;
    bool drawer_ = false;
    std::deque<std::string> log_;
    std::ostream* out_ = nullptr;
};
