// A file of expectations: what can be read of it is judged.
#include "target.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const kiai::Rehearsal run = [] {
        const std::filesystem::path bench = KIAI_SOURCE "/examples/marble-run";
        return kiai::rehearse(kiai::load_project(bench).project, kiai::load_trace(bench / "run.jsonl").trace);
    }();
    const fuzz::File file(fuzz::text_of(data, size));
    for (const kiai::Expectation& expectation : kiai::load_expectations(file.path()).expectations) {
        const kiai::ExpectationResult met = meets(run, expectation);
        if (met.expected.empty() || met.happened.empty()) std::abort();
    }
    return 0;
}
