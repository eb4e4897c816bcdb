// A curve through points, linear or smooth.
#pragma once

#include <cstddef>
#include <utility>
#include <vector>

namespace kiai::dsp {

using Point = std::pair<double, double>;

class Curve {
  public:
    Curve() = default;
    /// [control] `points`: one or more, x ascending. `smooth`: cubic segments with a continuous slope and without
    /// overshoot (Fritsch and Carlson, 1980).
    Curve(std::vector<Point> points, bool smooth);

    /// Returns the value at `x`; the first and last values extend beyond the points. [rt]
    double at(double x) const noexcept;
    bool operator==(const Curve&) const = default;

  private:
    std::vector<Point> points_;
    std::vector<double> slopes_; ///< at each point; empty: straight
};

} // namespace kiai::dsp
