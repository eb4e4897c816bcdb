#include "workshop/rehearse/spreads.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace kiai::workshop {

void SumOfSpreads::add(const model::Spread& spread, bool bell) {
    low_ += std::min(spread.from, spread.to);
    const double width = std::abs(spread.to - spread.from);
    if (width <= 0) return;
    if (bell) // the mean of three even draws
        widths_.insert(widths_.end(), 3, width / 3);
    else
        widths_.push_back(width);
}

double SumOfSpreads::high() const noexcept {
    return std::accumulate(widths_.begin(), widths_.end(), low_);
}

/// Distribution of a sum of n uniform draws of different widths, by inclusion and exclusion (Bradley and Gupta, "On the
/// distribution of the sum of n non-identically distributed uniform random variables", 2002). Widths below a thousandth
/// of the largest are ignored: they would lose all digits and change nothing visible.
double SumOfSpreads::at_most(double value) const noexcept {
    if (widths_.empty()) return value >= low_ ? 1 : 0;
    const double greatest = *std::max_element(widths_.begin(), widths_.end());
    double scale = 1, x = (value - low_) / greatest;
    std::vector<double> widths;
    for (const double width : widths_)
        if (width > greatest / 1000) widths.push_back(width / greatest);
    for (std::size_t i = 0; i < widths.size(); ++i) scale *= widths[i] * static_cast<double>(i + 1);
    double sum = 0;
    for (std::size_t subset = 0; subset < std::size_t{1} << widths.size(); ++subset) {
        double rest = x, sign = 1;
        for (std::size_t i = 0; i < widths.size(); ++i)
            if (subset >> i & 1) rest -= widths[i], sign = -sign;
        if (rest > 0) sum += sign * std::pow(rest, static_cast<double>(widths.size()));
    }
    return std::clamp(sum / scale, 0.0, 1.0);
}

} // namespace kiai::workshop
