// kiai rehearse: replays a trace through a project, without a device.
#include "against.h"
#include "claim.h"
#include "command.h"
#include "expected.h"
#include "outputs.h"
#include "player.h"
#include "run_report.h"
#include "system/terminal.h"

#include <kiai/workshop/picture.h>

#include <fmt/format.h>

#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct RehearseArguments {
    Operands words;
    Outputs outputs;
    std::optional<std::uint64_t> seed;
    double tail = 2;
    std::string expect, pieces, against;
    bool json = false, say = false, strict = false, quiet = false;
};

/// Draws the run, or both runs if there is a baseline.
bool draw(const Rehearsal& now, const std::optional<Against>& against, const RehearseArguments& arguments) {
    const Outputs& outputs = arguments.outputs;
    if (!against || outputs.picture.empty()) return write_outputs(now, outputs);
    Outputs others = outputs;
    others.picture.clear();
    return write_outputs(now, others) &&
           write_picture(draw_rehearsals(outputs.picture, against->before, now,
                                         {"before: " + arguments.against, "now: " + outputs.title},
                                         {.from = Seconds(outputs.from), .to = Seconds(outputs.to)}),
                         outputs);
}

Status run(RehearseArguments arguments) {
    const auto folder = take_project(arguments.words);
    if (const Status status = claim_output(arguments.outputs.sound, {".wav"}, sound_mark); status != done)
        return status;
    if (const Status status = claim_output(arguments.outputs.log, {".jsonl", ".json"}, log_mark); status != done)
        return status;
    if (const Status status = claim_output(arguments.outputs.picture, {".png"}, picture_mark); status != done)
        return status;
    check_cut(arguments.outputs.from, arguments.outputs.to);
    const LoadResult loaded = load_or_say(folder);
    const LoadedTrace trace = load_trace(arguments.words.front());
    for (const Finding& finding : trace.findings) std::cerr << finding << '\n';
    if (trace.trace.lines.empty() && !trace.ok()) return failed;

    RehearseSettings settings;
    settings.seed = arguments.seed;
    settings.tail = Seconds(arguments.tail);
    Rehearsal rehearsal = rehearse(loaded.project, trace.trace, settings);
    bool good = say_findings(rehearsal.findings, Severity::note) && loaded.ok() && trace.ok();
    good = good && (!arguments.strict || count(rehearsal.findings, Severity::warning) == 0);
    std::optional<Against> against;
    if (!arguments.against.empty()) {
        against = compare_with(arguments.against, folder, trace.trace, settings, rehearsal);
        if (!against) return failed;
        good = good && (!arguments.strict || against->found.all.empty());
    }
    std::optional<Judged> judged;
    if (!arguments.expect.empty()) {
        judged = judge(rehearsal, arguments.expect);
        good = good && judged->good();
    }
    arguments.outputs.title = fmt::format("{}: {}", loaded.project.name().empty() ? "rehearsal" : loaded.project.name(),
                                          std::filesystem::path(arguments.words.front()).filename().string());
    if (!draw(rehearsal, against, arguments)) return not_written;
    if (judged && !arguments.pieces.empty() && !draw_pieces(rehearsal, *judged, arguments.pieces)) return not_written;
    if (arguments.json) {
        std::cout << print_run(rehearsal, judged, against);
        return good ? done : failed;
    }
    if (arguments.say)
        print_log(rehearsal);
    else if (!judged && !against)
        print_summary(rehearsal);
    if (against) print_against(*against, rehearsal, arguments.against);
    if (judged) print_judged(*judged, arguments.expect);
    const bool names_output = !arguments.outputs.sound.empty() || !arguments.outputs.log.empty() ||
                              !arguments.outputs.picture.empty() || judged || against;
    if (!names_output && !arguments.quiet && interactive()) listen(rehearsal, {});
    return good ? done : failed;
}

} // namespace

void add_rehearse(Commands& commands) {
    auto arguments = std::make_shared<RehearseArguments>();
    Command command = commands.add(Group::runs, "rehearse", "Replay a trace without a device (offline render)");
    command.project(arguments->words, {{"TRACE", "The trace: JSON Lines", Completes::file, {}}});
    add_sound_output(command, arguments->outputs);
    command.option("--log", arguments->outputs.log, "FILE", "Write the decisions: .jsonl").completes(Completes::file);
    command.option("--picture", arguments->outputs.picture, "FILE", "Write a picture of the run: .png")
        .completes(Completes::file);
    add_cut(command, arguments->outputs.from, arguments->outputs.to, "of the sound and the picture");
    command.option("--seed", arguments->seed, "NUMBER", "Seed of all random choices (default: the trace's, or 1)");
    command.time("--tail", arguments->tail, 0, 3600, "Play endless sounds for this time after the last report");
    command.option("--expect", arguments->expect, "FILE", "Check the run against an expectations file")
        .completes(Completes::file);
    command.option("--failures", arguments->pieces, "FOLDER", "Draw the part of the run where an expectation failed")
        .completes(Completes::folder);
    command
        .option("--baseline", arguments->against, "FILE",
                "Compare with an earlier log, or with the project in a folder")
        .completes(Completes::file);
    command.flag("--strict", arguments->strict, "Exit with status 1 for warnings and differences");
    command.flag("--decisions", arguments->say, "Print every decision instead of the summary");
    add_quiet(command, arguments->quiet);
    add_force(command);
    add_json(command, arguments->json);
    command.explain("In a terminal, plays the run if no output, expectations or baseline are named. Ctrl-C ends it.");
    command.fails_if("the project or the trace has an error, or an expectation failed");
    command.example("kiai rehearse marble-run marble-run/run.jsonl --out run.wav --log log.jsonl --picture run.png");
    command.example("kiai rehearse marble-run marble-run/run.jsonl --expect marble-run/expect.toml");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
