#include "triggers/bodies.h"

#include <algorithm>
#include <cmath>

namespace kiai::triggers {

Bodies::Bodies(const std::vector<model::Binding>& bindings, const Bindings& found, Hub& hub, int rate)
    : bindings_(bindings), found_(found), hub_(hub), rate_(rate), bodies_(most), touching_(most * most) {}

int Bodies::find(std::uint64_t number) const noexcept {
    for (std::size_t b = 0; b < used_; ++b)
        if (bodies_[b].number == number) return static_cast<int>(b);
    return -1;
}

/// How far it is from one's edge to the other's, below 0 where they overlap. Circles are round, boxes upright.
double Bodies::apart(const Body& a, const Body& b) noexcept {
    const double round_a = a.box() ? 0 : a.half_width, round_b = b.box() ? 0 : b.half_width;
    const double wide = a.half_width - round_a + b.half_width - round_b,
                 high = (a.box() ? a.half_height : 0) + (b.box() ? b.half_height : 0);
    const double x = std::abs(a.x - b.x) - wide, y = std::abs(a.y - b.y) - high;
    const double outside = std::hypot(std::max(x, 0.0), std::max(y, 0.0));
    return (outside > 0 ? outside : std::max(x, y)) - round_a - round_b;
}

/// How fast they come nearer along the line between their middles, in the app's units per second.
double Bodies::closing(const Body& a, const Body& b) noexcept {
    const double x = b.x - a.x, y = b.y - a.y, length = std::hypot(x, y);
    const double over = (a.speed_x - b.speed_x) * x + (a.speed_y - b.speed_y) * y;
    return length > 0 ? std::max(0.0, over / length) : 0;
}

bool Bodies::bound(engine::NameId a, engine::NameId b, double& margin) const noexcept {
    margin = 0;
    bool any = false;
    for (const ReportKind kind : {ReportKind::contact, ReportKind::apart})
        for (const Bound& one : found_.find(kind, a, b)) {
            any = true;
            margin = std::max(margin, bindings_[static_cast<std::size_t>(one.number)].margin);
        }
    return any;
}

std::vector<bool>::reference Bodies::touching(std::size_t a, std::size_t b) noexcept {
    return touching_[std::min(a, b) * most + std::max(a, b)];
}

Holder Bodies::holder_for(std::size_t a, std::size_t b) const noexcept {
    const std::uint64_t pair = engine::scatter(std::min(bodies_[a].number, bodies_[b].number)) ^
                               std::max(bodies_[a].number, bodies_[b].number);
    return holder_of(ReportKind::apart, pair); // never that of a pair which the app tells itself
}

void Bodies::part(std::size_t a, std::size_t b, bool lost) noexcept {
    touching(a, b) = false;
    Happening parted;
    parted.kind = ReportKind::apart;
    parted.name = bodies_[a].kind;
    parted.other = bodies_[b].kind;
    parted.quiet = true;
    parted.lost = lost;
    hub_.over(holder_for(a, b), parted, hub_.happen(parted));
}

void Bodies::put(Happening happening, std::uint64_t number, Point middle, float half_width, float half_height,
                 Frames now) noexcept {
    int at = find(number);
    const bool first = at < 0;
    if (first) {
        at = find(0); // a place that was left
        if (at < 0 && used_ == most) return hub_.say(Outcome::refused_full, happening);
        if (at < 0) at = static_cast<int>(used_++);
        bodies_[static_cast<std::size_t>(at)] = {};
    }
    const auto own = static_cast<std::size_t>(at);
    Body& body = bodies_[own];
    const double seconds = static_cast<double>(now - body.since) / rate_;
    if (!first && seconds > 0) {
        body.speed_x = (middle.x - body.x) / seconds;
        body.speed_y = (middle.y - body.y) / seconds;
    }
    if (first || seconds > 0) body.since = now;
    body.number = number;
    body.kind = happening.name;
    body.x = middle.x, body.y = middle.y;
    body.half_width = half_width, body.half_height = half_height;
    for (std::size_t other = 0; other < used_; ++other) {
        double margin = 0;
        if (other == own || bodies_[other].number == 0 || !bound(body.kind, bodies_[other].kind, margin)) continue;
        const double distance = apart(body, bodies_[other]);
        if (touching(own, other)) {
            if (distance > margin) part(own, other, false);
        } else if (distance <= 0) {
            touching(own, other) = true;
            Happening touched;
            touched.kind = ReportKind::contact;
            touched.name = body.kind;
            touched.other = bodies_[other].kind;
            touched.options.strength = static_cast<float>(closing(body, bodies_[other]));
            touched.holder = holder_for(own, other);
            hub_.happen(touched);
        }
    }
}

void Bodies::gone(std::uint64_t number) noexcept {
    const int at = find(number);
    if (at < 0 || number == 0) return;
    const auto own = static_cast<std::size_t>(at);
    for (std::size_t other = 0; other < used_; ++other)
        if (other != own && bodies_[other].number != 0 && touching(own, other)) part(own, other, true);
    bodies_[own] = {};
}

} // namespace kiai::triggers
