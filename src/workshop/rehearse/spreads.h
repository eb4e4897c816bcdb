// The distribution of a sum of spreads.
#pragma once

#include "core/model/project.h"

#include <vector>

namespace kiai::workshop {

/// The sum of independent draws of several spreads.
class SumOfSpreads {
  public:
    void add(const model::Spread& spread, bool bell);

    double low() const noexcept { return low_; }
    double high() const noexcept;
    /// Returns the share of all draws at or below `value`.
    double at_most(double value) const noexcept;

  private:
    double low_ = 0;
    std::vector<double> widths_; ///< of even draws from 0, whose sum it is
};

} // namespace kiai::workshop
