// Positions and times in kiai.toml.
#pragma once

#include <cstdint>

namespace kiai::model {

/// A position in kiai.toml, from 1.
struct Source {
    int line = 0;
    int column = 0;

    /// The position is not part of an entry's value: an entry that only moved within its file is equal.
    bool operator==(const Source&) const noexcept { return true; }
};

/// A length of time in the unit of the file.
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
