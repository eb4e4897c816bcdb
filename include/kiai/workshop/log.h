// The decision log as JSON Lines, for programs.
#pragma once

#include <kiai/decision.h>

#include <functional>
#include <iosfwd>
#include <vector>

namespace kiai::inline v0 {

/// An object a line for each decision, as docs/log.md tells; nothing is left out. `out` outlives the sink. [control]
std::function<void(const Decision&)> jsonl_log(std::ostream& out, int sample_rate = 48000);

/// A field of a line of the log. Plain values that live as long as the program.
struct LogField {
    const char* path; ///< `frame`, `limit.kind`, `layers[].gain`
    const char* type; ///< `integer`, `number`, `string`, `boolean`, `object`, `array`
    const char* of;   ///< the decisions that have it; empty: all
    const char* description;
};
/// All fields, in the order in which a line has them. Their names and meanings belong to version 1 of the log. [any]
const std::vector<LogField>& log_fields();

} // namespace kiai::inline v0
