// Places and times, as kiai.toml gives them.
#pragma once

#include <cstdint>

namespace kiai::model {

/// Where in kiai.toml something stands; from 1.
struct Source {
    int line = 0;
    int column = 0;

    /// Where something stands is not part of what it says: an entry that was only moved in its file is the same.
    bool operator==(const Source&) const noexcept { return true; }
};

/// A length of time, as the file gives it.
struct Duration {
    double value = 0;
    bool in_frames = false; ///< else in seconds

    bool operator==(const Duration&) const = default;
    double exact_frames(int rate) const noexcept { return in_frames ? value : value * rate; }
    std::int64_t frames(int rate) const noexcept {
        return static_cast<std::int64_t>(in_frames ? value : value * rate + 0.5);
    }
};

} // namespace kiai::model
