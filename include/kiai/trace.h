// A trace: what an app reported, and when.
#pragma once

#include <kiai/finding.h>
#include <kiai/report.h>
#include <kiai/units.h>

#include <cstdint>
#include <filesystem>
#include <optional>
#include <vector>

namespace kiai::inline v0 {

struct TraceLine {
    double at = 0;               ///< seconds; used where `frame` is not given
    std::optional<Frames> frame; ///< on the clock of the engine that recorded it
    Report report;

    /// The frame at which a rehearsal serves it: `frame`, or round(at x rate).
    Frames due(int rate) const noexcept;
};

struct Trace {
    int sample_rate = 48000;
    std::optional<std::uint64_t> seed = std::nullopt;
    std::vector<TraceLine> lines; ///< in the order in which they are served
};

struct LoadedTrace {
    Trace trace;
    std::vector<Finding> findings; ///< a line with an error is left out

    bool ok() const noexcept { return count(findings, Severity::error) == 0; }
};

/// Reads a trace in JSON Lines. The first line may be its head: {"trace": 1, "rate": 48000, "seed": 7}. Each other line
/// has `at` (seconds) or `frame`, and one report. [control]
LoadedTrace load_trace(const std::filesystem::path& file);

} // namespace kiai::inline v0
