// The decision log as JSON Lines, for programs.
#pragma once

#include <kiai/decision.h>

#include <functional>
#include <iosfwd>
#include <vector>

namespace kiai::inline v0 {

/// Returns a sink that writes each decision as a line of JSON; see docs/log.md. `out` must outlive the sink. [control]
std::function<void(const Decision&)> jsonl_log(std::ostream& out, int sample_rate = 48000);

/// A field of a line of the log. Plain values that live as long as the program.
struct LogField {
    const char* path; ///< `frame`, `limit.kind`, `layers[].gain`
    const char* type; ///< `integer`, `number`, `string`, `boolean`, `object`, `array`
    const char* of;   ///< the decisions that have it; empty: all
    const char* description;
};
/// Returns all fields of version 1 of the log, in the order of a line. [any]
const std::vector<LogField>& log_fields();

} // namespace kiai::inline v0
