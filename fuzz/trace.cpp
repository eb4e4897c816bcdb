// Reads a trace, then rehearses, cuts and writes its valid lines.
#include "support/places.h"

#include "target.h"

#include <sstream>

namespace {

/// Returns true if the trace ends soon enough for a fuzzer; a trace of days is valid, but slow.
bool is_short(const kiai::Trace& trace) {
    return trace.lines.empty() || trace.lines.back().due(trace.sample_rate) < 5 * trace.sample_rate;
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const kiai::Project project = kiai::load_project(support::source_folder() + "/examples/marble-run").project;
    const fuzz::File file(fuzz::text_of(data, size));
    const kiai::Trace trace = kiai::load_trace(file.path()).trace;
    std::ostringstream again;
    kiai::write_trace(again, cut(trace, kiai::Seconds(0.1), kiai::Seconds(1)));
    kiai::check_trace(project, trace, "trace");
    if (is_short(trace)) kiai::rehearse(project, trace, {.tail = kiai::Seconds(0.1)});
    return 0;
}
