// Which zone a point is in.
#pragma once

#include "model/project.h"

#include <vector>

namespace kiai::triggers {

/// The zones of a project, front ones first.
class Zones {
  public:
    explicit Zones(const std::vector<model::Zone>& zones);
    /// The index in the project of the zone in front at `point`, or -1. [rt]
    int at(Point point) const noexcept;

  private:
    const std::vector<model::Zone>& zones_;
    std::vector<int> front_first_;
};

/// A circle's rim is inside; a rectangle is inside at left and top, outside at right and bottom.
bool inside(const model::Zone& zone, Point point) noexcept;

} // namespace kiai::triggers
