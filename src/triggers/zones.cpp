#include "triggers/zones.h"

#include <algorithm>
#include <numeric>

namespace kiai::triggers {

bool inside(const model::Zone& zone, Point point) noexcept {
    const double x = point.x, y = point.y;
    if (zone.round) {
        const double dx = x - zone.circle.x, dy = y - zone.circle.y;
        return dx * dx + dy * dy <= zone.circle.r * zone.circle.r;
    }
    const model::Rectangle& box = zone.rectangle;
    return x >= box.x && x < box.x + box.width && y >= box.y && y < box.y + box.height;
}

Zones::Zones(const std::vector<model::Zone>& zones) : zones_(zones), front_first_(zones.size()) {
    std::iota(front_first_.begin(), front_first_.end(), 0);
    std::sort(front_first_.begin(), front_first_.end(), [&](int a, int b) {
        const int x = zones[static_cast<std::size_t>(a)].order, y = zones[static_cast<std::size_t>(b)].order;
        return x != y ? x > y : a > b;
    });
}

int Zones::at(Point point) const noexcept {
    for (const int index : front_first_)
        if (inside(zones_[static_cast<std::size_t>(index)], point)) return index;
    return -1;
}

} // namespace kiai::triggers
