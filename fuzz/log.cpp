// Reads a decision log, queries it, and compares it with itself.
#include "support/places.h"

#include "target.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const kiai::Project project = kiai::load_project(support::source_folder() + "/examples/marble-run").project;
    const fuzz::File file(fuzz::text_of(data, size));
    const kiai::Rehearsal run = kiai::load_log(file.path()).rehearsal;
    for (const char* about : {"oak", "press hopper", "press 118 82", "warning"}) kiai::why_silent(project, about, run);
    kiai::differences(run, run);
    for (const kiai::Decision& decision : run.decisions) describe(decision);
    return 0;
}
