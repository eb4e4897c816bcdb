// How a sum of spreads is distributed.
#pragma once

#include "core/model/project.h"

#include <vector>

namespace kiai::workshop {

/// The sum of what several spreads draw, each by itself.
class SumOfSpreads {
  public:
    void add(const model::Spread& spread, bool bell);

    double low() const noexcept { return low_; }
    double high() const noexcept;
    /// The part of all draws at or below `value`.
    double at_most(double value) const noexcept;

  private:
    double low_ = 0;
    std::vector<double> widths_; ///< of even draws from 0, whose sum it is
};

} // namespace kiai::workshop
