// The app's own processing on buses.
#pragma once

#include "core/mixer/journal.h"

#include <kiai/insert.h>
#include <kiai/units.h>

#include <array>
#include <atomic>
#include <cstdint>
#include <memory>
#include <vector>

namespace kiai::mixer {

/// At most one insert per bus. A bus without an insert costs nothing.
class BusInserts {
  public:
    /// [control]
    BusInserts(int rate, int most_frames) : rate_(rate), most_frames_(most_frames) {}

    /// Sets the prepared insert of a bus in place of an earlier one; null: removes it. `tail`: how long it sounds after
    /// its input ends. [control]
    void set(int bus, std::shared_ptr<Insert> insert, Seconds tail);
    /// Returns inserts that are no longer used. The caller releases them on a thread that may call the app. [control]
    std::vector<std::shared_ptr<Insert>> take_unused();
    /// A device requests the blocks: inserts that take longer than their frames last are bypassed. [any]
    void live(bool on) noexcept { live_.store(on, std::memory_order_relaxed); }
    bool live() const noexcept { return live_.load(std::memory_order_relaxed); }

    /// Returns true if the insert of a bus must be processed. [rt]
    bool needs(int bus, bool sounds) const noexcept;
    /// Processes the next frames of a bus in place. `sounds`: something is mixed to the bus. Writes faults to the
    /// journal. [rt]
    void process(int bus, bool sounds, float* left, float* right, int frames, Frames now, Journal& journal) noexcept;

  private:
    static constexpr int most_buses = 2048;
    enum Fault : std::int16_t { threw, not_finite, too_slow };

    struct Entry {
        std::shared_ptr<Insert> insert; ///< null: the bus goes through as it is
        Frames tail = 0;
        std::atomic<bool> done{false}; ///< `render` has released it
        // The members below belong to `render`.
        bool off = false;  ///< bypassed after a fault
        bool rests = true; ///< it has been silent for longer than its tail
        Frames silent_for = 0;
        int slow = 0, nearly_slow = 0; ///< calls in a row
        bool warned = false;
        float dry[2] = {}, wet[2] = {}; ///< the last frame before and after it
        float step[2] = {};             ///< between them, when it was bypassed: it falls to 0
        int falls = 0;                  ///< the remaining frames of the fall
    };
    struct Slot {
        std::atomic<Entry*> box{nullptr}; ///< on its way to `render`
        Entry *current = nullptr, *leaving = nullptr;
        int fade = 0; ///< frames until `leaving` is no longer heard
        std::vector<float> dry[2], other[2];
    };
    Slot* at(int bus) const noexcept {
        return bus < most_buses ? slots_[static_cast<std::size_t>(bus)].load(std::memory_order_acquire) : nullptr;
    }
    int fade_frames() const noexcept { return rate_ / 100; }
    void run(Entry* entry, bool sounds, const Slot& slot, float* const sides[2], int frames, decisions::Record record,
             Journal& journal) noexcept;
    void bypass(Entry& entry, Fault fault, decisions::Record record, Journal& journal) noexcept;
    void time(Entry& entry, double share, const decisions::Record& record, Journal& journal) noexcept;

    const int rate_, most_frames_;
    std::atomic<bool> live_{false};
    std::array<std::atomic<Slot*>, most_buses> slots_{};
    std::vector<std::unique_ptr<Slot>> all_slots_;
    std::vector<std::unique_ptr<Entry>> all_;
};

} // namespace kiai::mixer
