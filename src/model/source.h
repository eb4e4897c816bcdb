// Places and times, as kiai.toml gives them.
#pragma once

#include <cstdint>

namespace kiai::model {

/// Where in kiai.toml something stands; from 1.
struct Source {
    int line = 0;
    int column = 0;
};

/// A length of time, as the file gives it.
struct Duration {
    double value = 0;
    bool in_frames = false; ///< else in seconds

    std::int64_t frames(int rate) const noexcept {
        return static_cast<std::int64_t>(in_frames ? value : value * rate + 0.5);
    }
};

} // namespace kiai::model
