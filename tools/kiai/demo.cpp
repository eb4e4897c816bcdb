// kiai demo: checks and rehearses the marble run.
#include "claim.h"
#include "command.h"
#include "outputs.h"
#include "run_report.h"
#include "runtime/system/program.h"

#include <fmt/format.h>

#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

namespace fs = std::filesystem;

struct DemoArguments {
    std::string out = "kiai-demo";
    bool json = false;
};

/// Returns the project in share/kiai, next to the tool's bin folder.
fs::path demo_project() {
    return runtime::program_path().parent_path().parent_path() / "share" / "kiai" / "marble-run";
}

Status run(const DemoArguments& arguments) {
    const fs::path folder = demo_project(), out = arguments.out;
    for (const auto& [name, mark] :
         {std::pair("run.wav", sound_mark), {"log.jsonl", log_mark}, {"run.png", picture_mark}})
        if (const Status status = claim_output((out / name).string(), {".wav", ".jsonl", ".png"}, mark); status != done)
            return status;
    std::error_code error;
    fs::create_directories(out, error);
    if (error) {
        say_error(fmt::format("{}: {}; choose another folder with --out", out.string(), error.message()));
        return failed;
    }
    const LoadResult loaded = load_or_say(folder);
    const LoadedTrace trace = load_trace(folder / "run.jsonl");
    for (const Finding& finding : trace.findings) std::cerr << finding << '\n';
    if (!loaded.ok() || !trace.ok()) return failed;
    const Rehearsal rehearsal = rehearse(loaded.project, trace.trace);
    const Outputs outputs{(out / "run.wav").string(),
                          (out / "log.jsonl").string(),
                          (out / "run.png").string(),
                          "marble-run: half a minute on the bench",
                          0,
                          0};
    if (!write_outputs(rehearsal, outputs)) return not_written;
    if (arguments.json) {
        std::cout << print_run(rehearsal);
        return done;
    }
    std::cout << '\n';
    print_summary(rehearsal);
    std::cout << "\nThe first second of the log:\n";
    for (const Decision& decision : rehearsal.decisions)
        if (const double at = static_cast<double>(decision.frame) / rehearsal.sample_rate; at < 1.25)
            std::cout << fmt::format("  {:6.3f} s  {}\n", at, describe(decision));
    std::cout << fmt::format("\nHear {}, look at {}, read {}.\n", outputs.sound, outputs.picture, outputs.log);
    return done;
}

} // namespace

void add_demo(Commands& commands) {
    auto arguments = std::make_shared<DemoArguments>();
    Command command = commands.add(Group::help, "demo", "Rehearse the marble run, the example project");
    command.option("-o,--out", arguments->out, "FOLDER", "Folder for the sound, the log and the picture")
        .shows_default()
        .completes(Completes::folder);
    add_force(command);
    add_json(command, arguments->json);
    command.fails_if("the demo could not be rehearsed");
    command.example("kiai demo --out demo");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
