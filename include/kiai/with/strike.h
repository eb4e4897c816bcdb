// How the adapters of physics libraries measure a touch.
#pragma once

#include <kiai/report.h>

#include <algorithm>

namespace kiai::with {

/// How strength and place of a touch are made. A plain value.
struct StrikeSettings {
    float full = 1;  ///< how fast the lighter body is stopped at strength 1, in the lengths of the world per second
    float least = 0; ///< touches below this strength are not reported
    /// If true, the strength is the speed at which the two approach when the touch starts. If false, it is the change
    /// of speed that the first impulse gives the lighter body, so a soft or light obstacle sounds softer.
    bool by_speed = false;
    float scale = 1;            ///< units of kiai.toml in a length of the world
    float left = -1, right = 1; ///< which x, in the units of kiai.toml, is at place -1 and at place 1

    float strength(float speed) const noexcept { return speed / full; }
    float place(float x) const noexcept {
        return std::clamp((x * scale - left) / (0.5f * (right - left)) - 1, -1.0f, 1.0f);
    }
};

} // namespace kiai::with
