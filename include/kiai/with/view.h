// Converts pixels of a window to the units of kiai.toml.
#pragma once

#include <kiai/report.h>

namespace kiai::with {

/// A position in the app's units is (pixel - origin) / scale. A plain value.
struct View {
    float scale = 1; ///< pixels per unit, above 0
    Point origin{};  ///< the pixel of the position 0, 0

    Point operator()(double x, double y) const noexcept {
        return {(static_cast<float>(x) - origin.x) / scale, (static_cast<float>(y) - origin.y) / scale};
    }
};

} // namespace kiai::with
