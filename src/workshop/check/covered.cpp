// Reports zones that other zones cover.
#include "workshop/check/findings.h"

#include <fmt/format.h>

#include <algorithm>

namespace kiai::workshop {
namespace {

/// Returns true if `front` exists whenever `zone` does, is in front of it, and takes its presses.
bool hides(const model::Project& project, std::size_t front, std::size_t zone) {
    const model::Zone &a = project.zones[front], &b = project.zones[zone];
    const bool before = a.order != b.order ? a.order > b.order : front > zone;
    return front != zone && before && !a.through && (a.scope < 0 || a.scope == b.scope);
}

} // namespace

/// Tests a grid of points: what could show between them is less than a hundredth of the zone wide.
void doubt_zones(const model::Project& project, reader::Findings& findings) {
    constexpr int spots = 100;
    for (std::size_t z = 0; z < project.zones.size(); ++z) {
        const model::Zone& zone = project.zones[z];
        const model::Box box = model::box_of(zone.shape);
        std::vector<std::size_t> fronts;
        for (std::size_t f = 0; f < project.zones.size(); ++f) {
            const model::Box other = model::box_of(project.zones[f].shape);
            const bool meets = other.left <= box.right && other.right >= box.left && other.top <= box.bottom &&
                               other.bottom >= box.top;
            if (meets && hides(project, f, z)) fronts.push_back(f);
        }
        if (fronts.empty()) continue;
        bool shows = false;
        std::vector<std::string> by;
        for (int i = 0; i < spots * spots && !shows; ++i) {
            const int row = i / spots;
            const model::Spot spot{box.left + (i % spots + 0.5) / spots * (box.right - box.left),
                                   box.top + (row + 0.5) / spots * (box.bottom - box.top)};
            if (!model::inside(zone.shape, spot)) continue;
            const auto over = std::find_if(fronts.begin(), fronts.end(), [&](std::size_t front) {
                return model::inside(project.zones[front].shape, spot);
            });
            shows = over == fronts.end();
            if (!shows && std::find(by.begin(), by.end(), project.zones[*over].name) == by.end())
                by.push_back(project.zones[*over].name);
        }
        if (!shows)
            findings.add(
                FindingCode::covered_zone, zone.source,
                fmt::format("zone \"{}\": \"{}\" in front receives every press", zone.name, fmt::join(by, "\" and \"")),
                "raise `order`, or write through = true in the front zone", zone.name);
    }
}

} // namespace kiai::workshop
