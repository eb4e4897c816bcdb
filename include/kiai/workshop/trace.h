// Reads, writes, cuts, joins and checks traces.
#pragma once

#include <kiai/finding.h>
#include <kiai/project.h>
#include <kiai/trace.h>

#include <filesystem>
#include <iosfwd>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct LoadedTrace {
    Trace trace;
    std::vector<Finding> findings; ///< lines with an error are ignored

    bool ok() const noexcept { return count(findings, Severity::error) == 0; }
};

/// Reads a trace in JSON Lines. The first line may be its head: {"trace": 1, "rate": 48000, "seed": 7}. Each other line
/// has `at` (seconds) or `frame`, and one report. [control]
LoadedTrace load_trace(const std::filesystem::path& file);

/// Writes a trace as JSON Lines, with its frames. [control]
void write_trace(std::ostream& out, const Trace& trace);
/// Writes a trace to a file, completely or not at all. Returns an empty text, or the error. [control]
std::string save_trace(const std::filesystem::path& file, const Trace& trace);

/// Returns the part from `from` to `to` (0: to the end), with times from its own start. Its first frame restores the
/// state at that moment: dials, scopes, positions of zones, gains of buses. [control]
Trace cut(const Trace& trace, Seconds from, Seconds to = Seconds(0));
/// Joins two traces. `interval`: from the last line of the first to the first frame of the second. [control]
Trace join(const Trace& first, const Trace& second, Seconds interval = Seconds(0));

/// Finds what in a trace does not fit a project: unknown names, and keys, contacts and notices without a binding.
/// Returns one finding per name, at its first line. `file`: the name of the trace in the findings. [control]
std::vector<Finding> check_trace(const Project& project, const Trace& trace, const std::string& file);

} // namespace kiai::inline v0
