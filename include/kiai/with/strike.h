// How the adapters of physics libraries measure a contact.
#pragma once

#include <kiai/report.h>

#include <algorithm>

namespace kiai::with {

/// How the strength and the place of a contact are computed. A plain value.
struct StrikeSettings {
    float full = 1;  ///< speed change of the lighter body at strength 1, in world units per second
    float least = 0; ///< contacts below this strength are not reported
    /// true: the strength is the speed at which the bodies approach. false: the strength is the speed change that the
    /// first impulse gives the lighter body, so a soft or light obstacle sounds softer.
    bool by_speed = false;
    float scale = 1;            ///< units of kiai.toml per world unit
    float left = -1, right = 1; ///< the x of place -1 and of place 1, in units of kiai.toml

    float strength(float speed) const noexcept { return speed / full; }
    float place(float x) const noexcept {
        return std::clamp((x * scale - left) / (0.5f * (right - left)) - 1, -1.0f, 1.0f);
    }
};

} // namespace kiai::with
