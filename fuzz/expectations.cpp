// Reads a file of expectations, and judges those that are valid.
#include "support/places.h"

#include "target.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const kiai::Rehearsal run = [] {
        const std::filesystem::path bench = support::source_folder() + "/examples/marble-run";
        kiai::Trace trace = kiai::load_trace(bench / "run.jsonl").trace;
        // Keep the first three seconds only: an instrumented build is too slow for the whole run.
        std::erase_if(trace.lines,
                      [&](const kiai::TraceLine& line) { return line.due(trace.sample_rate) > 3 * trace.sample_rate; });
        return kiai::rehearse(kiai::load_project(bench).project, trace);
    }();
    const fuzz::File file(fuzz::text_of(data, size));
    for (const kiai::Expectation& expectation : kiai::load_expectations(file.path()).expectations) {
        const kiai::ExpectationResult met = meets(run, expectation);
        if (met.expected.empty() || met.happened.empty()) std::abort();
    }
    return 0;
}
