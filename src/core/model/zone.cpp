#include "core/model/zone.h"

#include <algorithm>

namespace kiai::model {
namespace {

template<class... Cases>
struct Match : Cases... {
    using Cases::operator()...;
};
template<class... Cases>
Match(Cases...) -> Match<Cases...>; // some compilers do not find it themselves

} // namespace

Box box_of(const Shape& shape) noexcept {
    return std::visit(Match{[](const Circle& c) {
                                return Box{c.x - c.r, c.y - c.r, c.x + c.r, c.y + c.r};
                            },
                            [](const Ellipse& e) {
                                return Box{e.x - e.rx, e.y - e.ry, e.x + e.rx, e.y + e.ry};
                            },
                            [](const Rectangle& r) {
                                return Box{r.x, r.y, r.x + r.width, r.y + r.height};
                            },
                            [](const Polygon& p) {
                                Box box{p.corners[0].x, p.corners[0].y, p.corners[0].x, p.corners[0].y};
                                for (const Spot& corner : p.corners)
                                    box = {std::min(box.left, corner.x), std::min(box.top, corner.y),
                                           std::max(box.right, corner.x), std::max(box.bottom, corner.y)};
                                return box;
                            }},
                      shape);
}

bool inside(const Shape& shape, Spot spot) noexcept {
    const double x = spot.x, y = spot.y;
    return std::visit(
        Match{[&](const Circle& c) {
                  const double dx = x - c.x, dy = y - c.y;
                  return dx * dx + dy * dy <= c.r * c.r;
              },
              [&](const Ellipse& e) {
                  const double dx = (x - e.x) / e.rx, dy = (y - e.y) / e.ry;
                  return dx * dx + dy * dy <= 1;
              },
              [&](const Rectangle& r) { return x >= r.x && x < r.x + r.width && y >= r.y && y < r.y + r.height; },
              [&](const Polygon& p) { // count the edges to the right of the point
                  bool odd = false;
                  for (std::size_t i = 0, before = p.corners.size() - 1; i < p.corners.size(); before = i++) {
                      const Spot a = p.corners[i], b = p.corners[before];
                      if ((a.y > y) != (b.y > y) && x < (b.x - a.x) * (y - a.y) / (b.y - a.y) + a.x) odd = !odd;
                  }
                  return odd;
              }},
        shape);
}

const char* shape_name(const Shape& shape) noexcept {
    static constexpr const char* names[] = {"circle", "ellipse", "rectangle", "polygon"};
    return names[shape.index()];
}

} // namespace kiai::model
