// A trace: what an app reported, and when.
#pragma once

#include <kiai/finding.h>
#include <kiai/project.h>
#include <kiai/report.h>
#include <kiai/units.h>

#include <cstdint>
#include <filesystem>
#include <iosfwd>
#include <optional>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct TraceLine {
    double at = 0;                              ///< seconds; used where `frame` is not given
    std::optional<Frames> frame = std::nullopt; ///< on the clock of the engine that recorded it
    Report report;
    int line = 0; ///< in its file, from 1; 0: it is from none

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

/// Writes a trace as JSON Lines, with its frames. [control]
void write_trace(std::ostream& out, const Trace& trace);
/// The same into a file, whole or not at all; empty, or why not. [control]
std::string save_trace(const std::filesystem::path& file, const Trace& trace);

/// The part from `from` up to before `to` (0: to its end), counted from its own begin. What holds at that moment
/// (dials, scopes, places of zones, buses) stands at its first frame. [control]
Trace cut(const Trace& trace, Seconds from, Seconds to = Seconds(0));
/// One after the other; `apart`: from the last line of the first to the first frame of the second. [control]
Trace join(const Trace& first, const Trace& second, Seconds apart = Seconds(0));

/// What a project knows nothing of any more: names in it that are gone, keys, contacts and notices that nothing is
/// bound to. One finding for each name, at the line that names it first. `file`: what the findings call the trace.
/// [control]
std::vector<Finding> check_trace(const Project& project, const Trace& trace, const std::string& file);

} // namespace kiai::inline v0
