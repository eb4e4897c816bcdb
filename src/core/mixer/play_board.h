// The current plays, for any thread to read.
#pragma once

#include <kiai/decision.h>
#include <kiai/units.h>

#include <atomic>
#include <cstdint>
#include <vector>

namespace kiai::mixer {

/// One place per play. Only `render` writes, between two counts that are odd during the write. A reader that meets an
/// odd or a changed count reads again (a sequence lock; Boehm 2012, with each part atomic).
class PlayBoard {
  public:
    struct Shown {
        std::uint32_t id = 0; ///< 0: none
        int sound = 0, bus = 0, scope = -1;
        PlayState state = PlayState::ended;
        Frames begin = 0;    ///< later by what it was paused
        Frames stood_at = 0; ///< paused: since when
    };
    /// [control]
    explicit PlayBoard(std::size_t plays) : places_(plays) {}

    std::size_t size() const noexcept { return places_.size(); }
    /// [rt]
    void write(std::size_t at, const Shown& shown) noexcept {
        Place& place = places_[at];
        const std::uint32_t turn = place.turn.load(std::memory_order_relaxed);
        place.turn.store(turn + 1, std::memory_order_relaxed);
        place.id.store(shown.id, std::memory_order_release);
        place.sound.store(shown.sound, std::memory_order_release);
        place.bus.store(shown.bus, std::memory_order_release);
        place.scope.store(shown.scope, std::memory_order_release);
        place.state.store(shown.state, std::memory_order_release);
        place.begin.store(shown.begin, std::memory_order_release);
        place.stood_at.store(shown.stood_at, std::memory_order_release);
        place.turn.store(turn + 2, std::memory_order_release);
    }
    /// [rt]
    void set_bus(std::size_t at, int bus) noexcept { places_[at].bus.store(bus, std::memory_order_release); }
    /// [any]
    Shown read(std::size_t at) const noexcept {
        const Place& place = places_[at];
        for (;;) {
            const std::uint32_t turn = place.turn.load(std::memory_order_acquire);
            const Shown shown{
                place.id.load(std::memory_order_acquire),      place.sound.load(std::memory_order_acquire),
                place.bus.load(std::memory_order_acquire),     place.scope.load(std::memory_order_acquire),
                place.state.load(std::memory_order_acquire),   place.begin.load(std::memory_order_acquire),
                place.stood_at.load(std::memory_order_acquire)};
            if (turn % 2 == 0 && place.turn.load(std::memory_order_acquire) == turn) return shown;
        }
    }

  private:
    struct Place {
        std::atomic<std::uint32_t> turn{0}, id{0};
        std::atomic<int> sound{0}, bus{0}, scope{-1};
        std::atomic<PlayState> state{PlayState::ended};
        std::atomic<Frames> begin{0}, stood_at{0};
    };
    std::vector<Place> places_;
};

} // namespace kiai::mixer
