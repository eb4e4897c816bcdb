#include "core/rules/zones.h"

#include "core/dsp/bits.h"
#include "core/model/prefetch.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace kiai::rules {
namespace {
constexpr int most_cells = 128; ///< along a side of the grid
}

Zones::Zones(const std::vector<model::Zone>& zones, model::NameTable& names)
    : zones_(zones), states_(zones.size()), puts_(zones.size()), told_(zones.size()), front_first_(zones.size()) {
    for (std::size_t z = 0; z < zones.size(); ++z) {
        const model::NameId name = names.add(zones[z].name);
        if (by_name_.size() <= name) by_name_.resize(name + 1, -1);
        if (!zones[z].gone) by_name_[name] = static_cast<int>(z);
        State& state = states_[z];
        state.shape = zones[z].shape;
        state.name = name;
        state.through = zones[z].through;
        state.shown = zones[z].scope < 0 && !zones[z].gone;
    }
    for (int z = 0; z < static_cast<int>(zones.size()); ++z) tell(z);
    moved_.reserve(zones.size());
    std::iota(front_first_.begin(), front_first_.end(), 0);
    std::sort(front_first_.begin(), front_first_.end(), [&](int a, int b) {
        return zone(a).order != zone(b).order ? zone(a).order > zone(b).order : later(a, b);
    });
    for (std::size_t r = 0; r < front_first_.size(); ++r) state(front_first_[r]).rank = static_cast<int>(r);
    if (!zones.empty()) build_grid();
}

/// Returns true if zone `a` is later in kiai.toml.
bool Zones::later(int a, int b) const noexcept {
    const model::Source &one = zone(a).source, &other = zone(b).source;
    if (one.line != other.line) return one.line > other.line;
    return one.column != other.column ? one.column > other.column : a > b;
}

void Zones::build_grid() {
    const auto first = std::find_if(zones_.begin(), zones_.end(), [](const model::Zone& zone) { return !zone.gone; });
    if (first == zones_.end()) return;
    all_ = model::box_of(first->shape);
    for (const model::Zone& zone : zones_) {
        if (zone.gone) continue;
        const model::Box box = model::box_of(zone.shape);
        all_ = {std::min(all_.left, box.left), std::min(all_.top, box.top), std::max(all_.right, box.right),
                std::max(all_.bottom, box.bottom)};
    }
    columns_ = rows_ = std::clamp(static_cast<int>(std::sqrt(static_cast<double>(zones_.size()))) * 2, 1, most_cells);
    const auto place = [](double at, double low, double high, int cells) {
        return std::clamp(static_cast<int>((at - low) / (high - low) * cells), 0, cells - 1);
    };
    const auto for_each_cell = [&](int z, const auto& use) {
        const model::Box box = model::box_of(zone(z).shape);
        const int left = place(box.left, all_.left, all_.right, columns_),
                  right = place(box.right, all_.left, all_.right, columns_),
                  top = place(box.top, all_.top, all_.bottom, rows_),
                  bottom = place(box.bottom, all_.top, all_.bottom, rows_);
        for (int row = top; row <= bottom; ++row)
            for (int column = left; column <= right; ++column) use(static_cast<std::size_t>(row * columns_ + column));
    };
    const auto count = static_cast<std::size_t>(columns_ * rows_);
    begins_.assign(count + 1, 0);
    for (const int z : front_first_)
        if (!zone(z).gone) for_each_cell(z, [&](std::size_t cell) { ++begins_[cell + 1]; });
    std::partial_sum(begins_.begin(), begins_.end(), begins_.begin());
    cells_.resize(static_cast<std::size_t>(begins_.back()));
    std::vector<int> next(begins_.begin(), begins_.end() - 1);
    for (const int z : front_first_)
        if (!zone(z).gone)
            for_each_cell(z, [&](std::size_t cell) { cells_[static_cast<std::size_t>(next[cell]++)] = z; });
}

/// Returns -1 outside the grid.
int Zones::cell_at(Point point) const noexcept {
    if (!(point.x >= all_.left && point.x <= all_.right && point.y >= all_.top && point.y <= all_.bottom) ||
        begins_.empty())
        return -1;
    const int column =
                  std::min(columns_ - 1, static_cast<int>((point.x - all_.left) / (all_.right - all_.left) * columns_)),
              row = std::min(rows_ - 1, static_cast<int>((point.y - all_.top) / (all_.bottom - all_.top) * rows_));
    return row * columns_ + column;
}

std::span<const int> Zones::zones_of(int cell) const noexcept {
    if (cell < 0) return {};
    const int *const begin = &begins_[static_cast<std::size_t>(cell)], *const end = begin + 1;
    return {cells_.data() + *begin, static_cast<std::size_t>(*end - *begin)};
}

void Zones::prefetch_cell(Point point) const noexcept {
    if (const int cell = cell_at(point); cell >= 0) model::prefetch(&begins_[static_cast<std::size_t>(cell)]);
}

void Zones::prefetch_zones(Point point) const noexcept {
    if (const auto zones = zones_of(cell_at(point)); !zones.empty()) model::prefetch(zones.data());
}

void Zones::prefetch_front(Point point) const noexcept {
    const auto zones = zones_of(cell_at(point));
    if (!zones.empty()) model::prefetch(&state(zones.front()));
}

model::NameId Zones::front_name(Point point) const noexcept {
    const auto zones = zones_of(cell_at(point));
    return zones.empty() ? model::no_name : name(zones.front());
}

bool Zones::holds(int z, Point point) const noexcept {
    if (!there(z)) return false;
    model::Spot spot{point.x, point.y};
    const State& now = state(z);
    if (now.moved) { // the point goes to where the zone was
        const Put& put = puts_[static_cast<std::size_t>(z)];
        const model::Spot middle = model::box_of(now.shape).middle();
        spot = {middle.x + (spot.x - put.middle.x) / put.scale, middle.y + (spot.y - put.middle.y) / put.scale};
    }
    return model::inside(now.shape, spot);
}

int Zones::at(Point point, std::span<int, most_at_once> found) const noexcept {
    const std::span<const int> standing = zones_of(cell_at(point));
    int count = 0;
    auto a = standing.begin();
    for (auto b = moved_.begin();;) { // both are in order: the one in front is looked at first
        while (a != standing.end() && state(*a).moved) ++a;
        if (a == standing.end() && b == moved_.end()) return count;
        const bool first = b == moved_.end() || (a != standing.end() && state(*a).rank < state(*b).rank);
        const int z = first ? *a++ : *b++;
        if (!holds(z, point)) continue;
        found[static_cast<std::size_t>(count++)] = z;
        if (!state(z).through || count == most_at_once) return count;
    }
}

void Zones::put(int z, Point middle, float scale) noexcept {
    State& now = state(z);
    now.away = false;
    puts_[static_cast<std::size_t>(z)] = {{middle.x, middle.y}, scale};
    const bool had_moved = now.moved;
    now.moved = true;
    tell(z);
    if (had_moved) return;
    moved_.insert(std::find_if(moved_.begin(), moved_.end(), [&](int other) { return state(other).rank > now.rank; }),
                  z); // within what was reserved
}

void Zones::take_away(int z) noexcept {
    state(z).away = true;
    tell(z);
}

void Zones::show(int scope, bool on) noexcept {
    for (std::size_t z = 0; z < zones_.size(); ++z)
        if (zones_[z].scope == scope && !zones_[z].gone) states_[z].shown = on;
}

void Zones::go_on_from(const Zones& other) noexcept {
    for (std::size_t z = 0; z < other.states_.size(); ++z) {
        State& state = states_[z];
        const State& before = other.states_[z];
        state.shown = before.shown && !zones_[z].gone;
        state.moved = before.moved && !zones_[z].gone;
        state.away = before.away;
        puts_[z] = other.puts_[z];
    }
    for (const int z : front_first_)
        if (state(z).moved) moved_.push_back(z);
    for (std::size_t z = 0; z < other.states_.size(); ++z) tell(static_cast<int>(z));
}

void Zones::tell(int z) noexcept {
    const State& now = state(z);
    const Put& put = puts_[static_cast<std::size_t>(z)];
    const model::Spot middle = now.moved ? put.middle : model::box_of(now.shape).middle();
    const auto bits = [](double number) {
        return static_cast<std::uint64_t>(dsp::bits_as<std::uint32_t>(static_cast<float>(number)));
    };
    Shown& told = told_[static_cast<std::size_t>(z)];
    told.middle.store(bits(middle.x) << 32 | bits(middle.y), std::memory_order_relaxed);
    told.scale.store(static_cast<float>(now.moved ? put.scale : 1), std::memory_order_relaxed);
    told.away.store(now.away, std::memory_order_relaxed);
}

ZonePlace Zones::place(int z) const noexcept {
    const Shown& told = told_[static_cast<std::size_t>(z)];
    const std::uint64_t middle = told.middle.load(std::memory_order_relaxed);
    return {{dsp::bits_as<float>(static_cast<std::uint32_t>(middle >> 32)),
             dsp::bits_as<float>(static_cast<std::uint32_t>(middle))},
            told.scale.load(std::memory_order_relaxed),
            told.away.load(std::memory_order_relaxed)};
}

int Zones::number_of(model::NameId name) const noexcept {
    return name < by_name_.size() ? by_name_[name] : -1;
}

} // namespace kiai::rules
