// The shapes of zones, in the app's units.
#pragma once

#include "core/model/source.h"

#include <string>
#include <variant>
#include <vector>

namespace kiai::model {

struct Spot {
    double x = 0, y = 0;
    bool operator==(const Spot&) const = default;
};

struct Circle {
    double x = 0, y = 0, r = 0; ///< its middle; the rim is inside
    bool operator==(const Circle&) const = default;
};
struct Ellipse {
    double x = 0, y = 0, rx = 0, ry = 0; ///< its middle; the rim is inside
    bool operator==(const Ellipse&) const = default;
};
struct Rectangle {
    double x = 0, y = 0, width = 0, height = 0; ///< inside at left and top, outside at right and bottom
    bool operator==(const Rectangle&) const = default;
};
struct Polygon {
    std::vector<Spot> corners; ///< three or more; what an odd number of its edges surrounds is inside
    bool operator==(const Polygon&) const = default;
};
using Shape = std::variant<Circle, Ellipse, Rectangle, Polygon>;

/// The smallest upright rectangle around a shape.
struct Box {
    double left = 0, top = 0, right = 0, bottom = 0;
    Spot middle() const noexcept { return {(left + right) / 2, (top + bottom) / 2}; }
};
Box box_of(const Shape& shape) noexcept;
bool inside(const Shape& shape, Spot spot) noexcept;
/// Returns `circle`, `ellipse`, `rectangle` or `polygon`.
const char* shape_name(const Shape& shape) noexcept;

struct Zone {
    std::string name;
    Shape shape;
    int order = 0;        ///< higher is in front; equal: the later in the file
    bool through = false; ///< lets what it takes pass to the zone behind it too
    int scope = -1;       ///< -1: it is always there
    Source source;
    bool gone = false; ///< see align.h
    bool operator==(const Zone&) const = default;
};

} // namespace kiai::model
