// A decision as a line of the log.
#pragma once

#include <kiai/decision.h>

#include <string>

namespace kiai::workshop {

/// Returns the line of `jsonl_log`, without its end.
std::string log_line(const Decision& decision, int rate);

} // namespace kiai::workshop
