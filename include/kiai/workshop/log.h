// The decision log as JSON Lines, for programs.
#pragma once

#include <kiai/decision.h>

#include <functional>
#include <iosfwd>

namespace kiai::inline v0 {

/// An object a line for each decision, as docs/log.md tells; nothing is left out. `out` outlives the sink. [control]
std::function<void(const Decision&)> log_lines(std::ostream& out, int sample_rate = 48000);

} // namespace kiai::inline v0
