// A curve through points: straight from one to the next, or smooth.
#pragma once

#include <cstddef>
#include <utility>
#include <vector>

namespace kiai::dsp {

using Point = std::pair<double, double>;

class Curve {
  public:
    Curve() = default;
    /// [control] `points`: one or more, x ascending. `smooth`: a cubic between each two, without a bend at a point and
    /// without swinging past it (Fritsch and Carlson, 1980).
    Curve(std::vector<Point> points, bool smooth);

    /// The height at `x`; before the first point and after the last it holds. [rt]
    double at(double x) const noexcept;
    bool operator==(const Curve&) const = default;

  private:
    std::vector<Point> points_;
    std::vector<double> slopes_; ///< at each point; empty: straight
};

} // namespace kiai::dsp
