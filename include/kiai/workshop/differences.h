// Two runs beside each other, and two states of a project.
#pragma once

#include <kiai/workshop/rehearse.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// A decision that is otherwise in one of two runs. Plain values.
struct Difference {
    enum class Kind { gone, added, changed };
    Kind kind = Kind::changed;
    Decision before, now; ///< gone: only the first; added: only the second
    std::string what;     ///< changed: what is otherwise: `takes`, `pitch`, `level` …
};

struct Differences {
    std::vector<Difference> all; ///< in order of frames
    std::size_t alike = 0;       ///< decisions that are the same in both
};

/// Compares two runs decision by decision: those about the same thing, with the same outcome, within 50 ms of each
/// other. Numbers of causes, plays and bindings do not count, since one more shifts all later ones; levels may differ
/// by 0.05 dB, pitches and gains by a thousandth, since a log rounds them. [control]
Differences differences(const Rehearsal& before, const Rehearsal& now);

/// What is otherwise between two states of a project, one line each: `sound "oak": vary, limit`, `clip "oak-3": its
/// file holds something else`, `binding contact marble+oak: is new`. [control] Does I/O.
std::vector<std::string> project_differences(const std::filesystem::path& before, const std::filesystem::path& now);

} // namespace kiai::inline v0
