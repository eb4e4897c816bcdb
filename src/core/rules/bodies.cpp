#include "core/rules/bodies.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace kiai::rules {
namespace {
constexpr std::size_t number_slots = 4 * Bodies::most; // sparse, so that a number is found at once

/// Uses + - * / and the square root alone, which give the same bits everywhere.
double length_of(double x, double y) noexcept {
    return std::sqrt(x * x + y * y);
}
} // namespace

Bodies::Bodies(const std::vector<model::Binding>& bindings, model::NameTable& names, Hub& hub)
    : hub_(hub), bodies_(most), by_number_(number_slots, -1), free_(most), touching_(most) {
    std::iota(free_.rbegin(), free_.rend(), std::int16_t{0});
    const auto is_bound = [](const model::Binding& binding) {
        return binding.trigger == ReportKind::contact || binding.trigger == ReportKind::contact_end;
    };
    for (const model::Binding& binding : bindings) {
        if (!is_bound(binding)) continue;
        kinds_.push_back(names.add(binding.name));
        kinds_.push_back(names.add(binding.other));
    }
    std::sort(kinds_.begin(), kinds_.end());
    kinds_.erase(std::unique(kinds_.begin(), kinds_.end()), kinds_.end());
    for (const model::Binding& binding : bindings) {
        if (!is_bound(binding)) continue;
        const int a = kind_index(names.add(binding.name)), b = kind_index(names.add(binding.other));
        double& margin = bound_.try_emplace({std::min(a, b), std::max(a, b)}, 0.0).first->second;
        margin = std::max(margin, binding.margin);
        largest_margin_ = std::max(largest_margin_, margin);
    }
}

void Bodies::go_on_from(Bodies& other) noexcept {
    bodies_.swap(other.bodies_);
    by_number_.swap(other.by_number_);
    free_.swap(other.free_);
    std::swap(grid_, other.grid_);
    touching_.swap(other.touching_);
    for (Body& body : bodies_) body.kind_index = body.number != 0 ? kind_index(body.kind) : -1;
}

int Bodies::kind_index(model::NameId kind) const noexcept {
    const auto at = std::lower_bound(kinds_.begin(), kinds_.end(), kind);
    return at != kinds_.end() && *at == kind ? static_cast<int>(at - kinds_.begin()) : -1;
}

double Bodies::margin(int kind, int other) const noexcept {
    if (kind < 0 || other < 0) return -1;
    const auto found = bound_.find({std::min(kind, other), std::max(kind, other)});
    return found == bound_.end() ? -1 : found->second;
}

int Bodies::find(std::uint64_t number) const noexcept {
    for (std::size_t slot = model::scatter(number) % number_slots; by_number_[slot] >= 0;
         slot = (slot + 1) % number_slots)
        if (bodies_[static_cast<std::size_t>(by_number_[slot])].number == number) return by_number_[slot];
    return -1;
}

int Bodies::claim(std::uint64_t number) noexcept {
    if (free_.empty()) return -1;
    const std::int16_t at = free_.back();
    free_.pop_back();
    bodies_[static_cast<std::size_t>(at)] = {};
    bodies_[static_cast<std::size_t>(at)].number = number;
    std::size_t slot = model::scatter(number) % number_slots;
    while (by_number_[slot] >= 0) slot = (slot + 1) % number_slots;
    by_number_[slot] = at;
    return at;
}

/// Closes the gap in the table of numbers, so that later bodies are still found.
void Bodies::release(int at) noexcept {
    std::size_t hole = model::scatter(bodies_[static_cast<std::size_t>(at)].number) % number_slots;
    while (by_number_[hole] != at) hole = (hole + 1) % number_slots;
    by_number_[hole] = -1;
    for (std::size_t slot = (hole + 1) % number_slots; by_number_[slot] >= 0; slot = (slot + 1) % number_slots) {
        const std::size_t home =
            model::scatter(bodies_[static_cast<std::size_t>(by_number_[slot])].number) % number_slots;
        if ((slot + number_slots - home) % number_slots < (slot + number_slots - hole) % number_slots) continue;
        std::swap(by_number_[hole], by_number_[slot]);
        hole = slot;
    }
    grid_.remove(at);
    bodies_[static_cast<std::size_t>(at)] = {};
    free_.push_back(static_cast<std::int16_t>(at));
}

/// Returns true only if the distance is above 0. Most neighbours are this far away, and it takes no root to see that.
bool Bodies::surely_apart(const Body& a, const Body& b) noexcept {
    const double both = (a.reach() + b.reach()) * 1.000001; // more than any rounding
    return std::abs(a.x - b.x) > both || std::abs(a.y - b.y) > both;
}

/// Returns the distance between the edges, below 0 if they overlap. Circles are round, boxes upright.
double Bodies::distance(const Body& a, const Body& b) noexcept {
    const double round_a = a.box() ? 0 : a.half_width, round_b = b.box() ? 0 : b.half_width;
    const double wide = a.half_width - round_a + b.half_width - round_b,
                 high = (a.box() ? a.half_height : 0) + (b.box() ? b.half_height : 0);
    const double x = std::abs(a.x - b.x) - wide, y = std::abs(a.y - b.y) - high;
    const double outside = length_of(std::max(x, 0.0), std::max(y, 0.0));
    return (outside > 0 ? outside : std::max(x, y)) - round_a - round_b;
}

/// Returns how fast the bodies approach along the line between their middles, in the app's units per second.
double Bodies::closing(const Body& a, const Body& b) noexcept {
    const double x = b.x - a.x, y = b.y - a.y, length = length_of(x, y);
    const double over = (a.speed_x - b.speed_x) * x + (a.speed_y - b.speed_y) * y;
    return length > 0 ? std::max(0.0, over / length) : 0;
}

Holder Bodies::holder_for(int a, int b) const noexcept {
    const std::uint64_t one = bodies_[static_cast<std::size_t>(a)].number,
                        other = bodies_[static_cast<std::size_t>(b)].number;
    // The pair number is never one that the app reports itself.
    return holder_of(ReportKind::contact_end, model::scatter(std::min(one, other)) ^ std::max(one, other));
}

void Bodies::part(int a, int b, bool lost) noexcept {
    touching_[static_cast<std::size_t>(a)].remove(b);
    touching_[static_cast<std::size_t>(b)].remove(a);
    Event parted;
    parted.kind = ReportKind::contact_end;
    parted.name = bodies_[static_cast<std::size_t>(a)].kind;
    parted.other = bodies_[static_cast<std::size_t>(b)].kind;
    parted.quiet = true;
    parted.lost = lost;
    hub_.over(holder_for(a, b), parted, hub_.happen(parted));
}

void Bodies::put(const Event& event, std::uint64_t number, Point middle, double half_width, double half_height,
                 double moment) noexcept {
    int own = find(number);
    const bool first = own < 0;
    if (first) own = claim(number);
    if (own < 0) return hub_.say(Outcome::no_room, event);
    Body& body = bodies_[static_cast<std::size_t>(own)];
    const double seconds = moment - body.moment;
    if (!first && seconds > 0) {
        body.speed_x = (middle.x - body.x) / seconds;
        body.speed_y = (middle.y - body.y) / seconds;
    }
    if (first || seconds > 0) body.moment = moment;
    if (body.kind != event.name) {
        body.kind = event.name;
        body.kind_index = kind_index(body.kind);
    }
    body.x = middle.x, body.y = middle.y;
    body.half_width = half_width, body.half_height = half_height;
    grid_.put(own, body.x, body.y, body.reach());
    BodySet others = touching_[static_cast<std::size_t>(own)];
    if (body.kind_index >= 0) others.add(grid_.near(body.x, body.y, body.reach() + largest_margin_));
    others.for_each([&](int at) {
        const Body& other = bodies_[static_cast<std::size_t>(at)];
        if (at == own) return;
        const bool touched_before = touching_[static_cast<std::size_t>(own)].has(at);
        if (!touched_before && surely_apart(body, other)) return;
        const double margin = this->margin(body.kind_index, other.kind_index);
        if (touched_before) {
            if (margin < 0 || distance(body, other) > margin) part(own, at, false);
        } else if (margin >= 0 && distance(body, other) <= 0) {
            touching_[static_cast<std::size_t>(own)].add(at);
            touching_[static_cast<std::size_t>(at)].add(own);
            Event touched;
            touched.kind = ReportKind::contact;
            touched.name = body.kind;
            touched.other = other.kind;
            touched.options.strength = static_cast<float>(closing(body, other));
            touched.holder = holder_for(own, at);
            hub_.happen(touched);
        }
    });
}

void Bodies::gone(std::uint64_t number) noexcept {
    const int own = number != 0 ? find(number) : -1;
    if (own < 0) return;
    touching_[static_cast<std::size_t>(own)].for_each([&](int other) { part(own, other, true); });
    release(own);
}

} // namespace kiai::rules
