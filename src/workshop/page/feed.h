// What a running engine decided, kept for the pages that watch it.
#pragma once

#include <kiai/decision.h>

#include <condition_variable>
#include <cstdint>
#include <deque>
#include <map>
#include <mutex>
#include <string>
#include <vector>

namespace kiai::workshop {

/// The largest magnitude of a play during 20 ms; linear.
struct LevelPoint {
    std::uint32_t play = 0;
    Frames frame = 0;
    float peak = 0;
};

/// Why a bus is quieter at the moment.
struct DuckedBus {
    std::string under; ///< the bus that sounds
    Decibels by = 0;   ///< below 0
};

class Feed {
  public:
    static constexpr std::size_t most_at_once = 40;   ///< decisions in one event; of the others only the number is sent
    static constexpr std::size_t most_at_first = 300; ///< decisions in the first event of a page
    static constexpr std::size_t most_kept = 20000;   ///< for `decisions`

    explicit Feed(int rate) : rate_(rate) {}

    /// Never waits for a page. [any]
    void add(const Decision& decision);
    void add_levels(const std::vector<LevelPoint>& points);
    /// Ends all waits. [any]
    void close();

    struct Part {
        std::vector<std::string> lines; ///< JSON, the newest `most`
        std::uint64_t left_out = 0;     ///< older ones
    };
    /// Returns where a page begins that opens now: with the newest decisions. [any]
    std::uint64_t beginning() const;
    /// Takes the decisions since `next`, and advances `next`. [any]
    Part take(std::uint64_t& next, std::size_t most = most_at_once) const;
    std::uint64_t beginning_of_levels() const;
    /// Takes the levels since `next`, at most the newest of some seconds. [any]
    std::vector<LevelPoint> take_levels(std::uint64_t& next) const;
    /// Waits for something after `next`, at most `milliseconds`. Returns false once it is closed. [any]
    bool wait(std::uint64_t next, int milliseconds) const;
    /// Returns the buses that are ducked now, by name. [any]
    std::map<std::string, DuckedBus> ducked() const;
    /// Returns the kept decisions, oldest first. [any]
    std::vector<Decision> decisions() const;

  private:
    const int rate_;
    mutable std::mutex mutex_;
    mutable std::condition_variable came_;
    std::deque<Decision> kept_;
    std::uint64_t count_ = 0; ///< of all that came
    std::map<std::string, DuckedBus> ducked_;
    std::deque<LevelPoint> levels_;
    std::uint64_t level_count_ = 0;
    bool closed_ = false;
};

} // namespace kiai::workshop
