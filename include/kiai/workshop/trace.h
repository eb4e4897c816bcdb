// Traces as files: read, written, cut, joined, and held against a project.
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
/// One after the other; `interval`: from the last line of the first to the first frame of the second. [control]
Trace join(const Trace& first, const Trace& second, Seconds interval = Seconds(0));

/// What a project knows nothing of any more: names in it that are gone, keys, contacts and notices that nothing is
/// bound to. One finding for each name, at the line that names it first. `file`: what the findings call the trace.
/// [control]
std::vector<Finding> check_trace(const Project& project, const Trace& trace, const std::string& file);

} // namespace kiai::inline v0
