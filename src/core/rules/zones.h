// Finds the zones at a point.
#pragma once

#include "core/model/names.h"
#include "core/model/project.h"

#include <kiai/state.h>

#include <atomic>
#include <cstdint>
#include <span>
#include <vector>

namespace kiai::rules {

/// The zones of a project in their present state: moved, scaled, removed, in scopes that are on. A grid finds those at
/// their place in kiai.toml, so that the cost does not grow with their number.
class Zones {
  public:
    /// [control]
    Zones(const std::vector<model::Zone>& zones, model::NameTable& names);

    static constexpr int most_at_once = 8;
    /// Finds the zones at `point`, front ones first, down to the first that lets nothing through; returns how many.
    /// [rt]
    int at(Point point, std::span<int, most_at_once> found) const noexcept;

    /// Prefetch what `at` will read, unless zones were moved: the grid's cell, its zones, and the front one. [rt]
    void prefetch_cell(Point point) const noexcept;
    void prefetch_zones(Point point) const noexcept;
    void prefetch_front(Point point) const noexcept;
    /// Returns the name of the front zone of the grid's cell at `point`. [rt]
    model::NameId front_name(Point point) const noexcept;

    /// Moves a zone's middle to a point, `scale` times as large as in kiai.toml; restores a removed zone. [rt]
    void put(int zone, Point middle, float scale) noexcept;
    void take_away(int zone) noexcept;
    /// Shows or hides the zones of a scope; a removed zone stays removed. [rt]
    void show(int scope, bool on) noexcept;
    /// Returns the present position. [any]
    ZonePlace place(int zone) const noexcept;
    bool there(int zone) const noexcept { return state(zone).shown && !state(zone).away; }

    /// Calls `use` with each zone that the app moved or removed: zone, whether it is removed, middle, scale. [rt]
    template<class Use>
    void for_each_moved(const Use& use) const noexcept {
        for (std::size_t z = 0; z < states_.size(); ++z) {
            const State& state = states_[z];
            const Put& put = puts_[z];
            if (state.moved) use(static_cast<int>(z), false, put.middle, put.scale);
            if (state.away) use(static_cast<int>(z), true, put.middle, put.scale);
        }
    }
    /// Takes over the positions that the app has set. [rt]
    void go_on_from(const Zones& other) noexcept;

    int number_of(model::NameId name) const noexcept;
    model::NameId name(int zone) const noexcept { return state(zone).name; }
    const model::Zone& zone(int zone) const noexcept { return zones_[static_cast<std::size_t>(zone)]; }

  private:
    /// All that `at` reads of a zone, in a cache line.
    struct alignas(64) State {
        model::Shape shape; ///< as in kiai.toml
        model::NameId name = model::no_name;
        int rank = 0; ///< 0: in front of all
        bool shown = true, away = false, moved = false;
        bool through = false; ///< as model::Zone's
    };
    /// A place that the app gave a zone.
    struct Put {
        model::Spot middle;
        double scale = 1;
    };
    /// The same for other threads; the middle is two floats.
    struct Shown {
        std::atomic<std::uint64_t> middle{0};
        std::atomic<float> scale{1};
        std::atomic<bool> away{false};
    };
    void tell(int zone) noexcept;
    const State& state(int zone) const noexcept { return states_[static_cast<std::size_t>(zone)]; }
    State& state(int zone) noexcept { return states_[static_cast<std::size_t>(zone)]; }
    bool later(int a, int b) const noexcept;
    bool holds(int zone, Point point) const noexcept;
    int cell_at(Point point) const noexcept;
    std::span<const int> zones_of(int cell) const noexcept;
    void build_grid();

    const std::vector<model::Zone>& zones_;
    std::vector<int> by_name_;
    std::vector<State> states_;
    std::vector<Put> puts_; ///< of those that are moved or away
    std::vector<Shown> told_;
    std::vector<int> front_first_; ///< all of them
    std::vector<int> moved_;       ///< those that are not where the grid has them, front ones first
    model::Box all_{};
    int columns_ = 0, rows_ = 0;
    std::vector<int> begins_; ///< of each cell in `cells_`, and the end
    std::vector<int> cells_;  ///< the zones of all cells, front ones first in each
};

} // namespace kiai::rules
