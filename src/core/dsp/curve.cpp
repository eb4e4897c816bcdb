#include "core/dsp/curve.h"

#include <cmath>

namespace kiai::dsp {

Curve::Curve(std::vector<Point> points, bool smooth) : points_(std::move(points)) {
    const std::size_t count = points_.size();
    if (!smooth || count < 3) return;
    std::vector<double> secants;
    for (std::size_t i = 1; i < count; ++i)
        secants.push_back((points_[i].second - points_[i - 1].second) / (points_[i].first - points_[i - 1].first));
    slopes_.assign(count, 0);
    for (std::size_t i = 1; i + 1 < count; ++i) // level where it turns, else the mean of both sides
        if (secants[i - 1] * secants[i] > 0) slopes_[i] = (secants[i - 1] + secants[i]) / 2;
    slopes_.front() = secants.front();
    slopes_.back() = secants.back();
    for (std::size_t i = 0; i < secants.size(); ++i) {
        if (secants[i] == 0) {
            slopes_[i] = slopes_[i + 1] = 0;
            continue;
        }
        const double a = slopes_[i] / secants[i], b = slopes_[i + 1] / secants[i];
        const double length = std::sqrt(a * a + b * b);
        if (length <= 3) continue;
        slopes_[i] = 3 / length * a * secants[i];
        slopes_[i + 1] = 3 / length * b * secants[i];
    }
}

double Curve::at(double x) const noexcept {
    if (points_.empty()) return 0;
    if (x <= points_.front().first) return points_.front().second;
    for (std::size_t i = 1; i < points_.size(); ++i) {
        const auto& [x0, y0] = points_[i - 1];
        const auto& [x1, y1] = points_[i];
        if (!(x < x1)) continue;
        const double width = x1 - x0, t = (x - x0) / width;
        if (slopes_.empty()) return y0 + (y1 - y0) * t;
        const double u = 1 - t;
        return y0 * u * u * (1 + 2 * t) + slopes_[i - 1] * width * u * u * t + y1 * t * t * (1 + 2 * u) -
               slopes_[i] * width * t * t * u;
    }
    return points_.back().second;
}

} // namespace kiai::dsp
