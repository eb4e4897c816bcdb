// Compares two runs, and two states of a project.
#pragma once

#include <kiai/workshop/rehearse.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// A decision that differs between two runs. A plain value.
struct Difference {
    enum class Kind { gone, added, changed };
    Kind kind = Kind::changed;
    Decision before, now; ///< removed: only the first; added: only the second
    std::string what;     ///< changed: `takes`, `pitch`, `level` …
};

struct Differences {
    std::vector<Difference> all; ///< in order of frames
    std::size_t alike = 0;       ///< number of equal decisions
};

/// Compares two runs decision by decision, and pairs decisions about the same thing within 50 ms. Ignores the numbers
/// of causes, plays and bindings, because one more shifts all later ones. Levels may differ by 0.05 dB, pitches and
/// gains by a thousandth, because a log rounds them. [control]
Differences differences(const Rehearsal& before, const Rehearsal& now);

/// Returns the differences between two states of a project, one line each: `sound "oak": vary, limit`, `clip "oak-3":
/// its file changed`, `binding contact marble+oak: new`. [control] Does I/O.
std::vector<std::string> project_differences(const std::filesystem::path& before, const std::filesystem::path& now);

} // namespace kiai::inline v0
