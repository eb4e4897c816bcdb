// Reads a trace that is not in a file.
#pragma once

#include <kiai/workshop/trace.h>

#include <istream>
#include <string>

namespace kiai::workshop {

/// Reads lines as `load_trace` does. `name`: of the text in findings.
LoadedTrace read_trace(std::istream& stream, const std::string& name);

} // namespace kiai::workshop
