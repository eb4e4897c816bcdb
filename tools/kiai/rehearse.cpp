// kiai rehearse: a trace through a project, without a device.
#include "against.h"
#include "claim.h"
#include "command.h"
#include "expected.h"
#include "outputs.h"
#include "run_report.h"

#include <kiai/workshop/picture.h>

#include <fmt/format.h>

#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct Arguments {
    std::vector<std::string> words;
    Outputs outputs;
    std::optional<std::uint64_t> seed;
    double tail = 2;
    std::string expect, pieces, against;
    bool json = false, say = false, strict = false;
};

/// The picture of the run, or of both, where there is another one.
bool draw(const Rehearsal& now, const std::optional<Against>& against, const Arguments& arguments) {
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

Status run(Arguments arguments) {
    const auto folder = take_project(arguments.words, 1);
    if (arguments.words.empty()) {
        say_error("no trace is given; name a file of JSON Lines: kiai rehearse PROJECT TRACE");
        return wrong_use;
    }
    if (const Status status = claim_output(arguments.outputs.sound, {".wav"}, sound_mark); status != done)
        return status;
    if (const Status status = claim_output(arguments.outputs.log, {".jsonl", ".json"}, log_mark); status != done)
        return status;
    if (const Status status = claim_output(arguments.outputs.picture, {".png"}, picture_mark); status != done)
        return status;
    if (arguments.outputs.to > 0 && arguments.outputs.to <= arguments.outputs.from) {
        say_error("--to lies before --from; give a later time");
        return wrong_use;
    }
    const LoadResult loaded = load_or_say(folder);
    const LoadedTrace trace = load_trace(arguments.words.front());
    for (const Finding& finding : trace.findings) std::cerr << finding << '\n';
    if (trace.trace.lines.empty() && !trace.ok()) return failed;

    RehearseSettings settings;
    settings.seed = arguments.seed;
    settings.tail = Seconds(arguments.tail);
    Rehearsal rehearsal = rehearse(loaded.project, trace.trace, settings);
    bool good = loaded.ok() && trace.ok() && say_findings(rehearsal.findings);
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
    return good ? done : failed;
}

} // namespace

void add_rehearse(Commands& commands) {
    auto arguments = std::make_shared<Arguments>();
    Command command =
        commands.add("rehearse", "Run a trace through a project: a sound file, a decision log, a picture",
                     "kiai rehearse marble-run marble-run/run.jsonl --out run.wav --log log.jsonl --picture run.png");
    command.option("what", arguments->words, "The project's folder, then the trace").expects(1, 2).required();
    add_sound_output(command, arguments->outputs);
    add_force(command);
    command.option("--log", arguments->outputs.log, "Write the decisions: JSON Lines");
    command.option("--picture", arguments->outputs.picture, "Write the picture: PNG");
    command.option("--from", arguments->outputs.from, "Write sound and picture from here on, in seconds").at_least(0.0);
    command.option("--to", arguments->outputs.to, "Write sound and picture up to here, in seconds").at_least(0.0);
    command.option("--seed", arguments->seed, "Seed of all chance; default: the trace's, else 1");
    command.option("--tail", arguments->tail, "Seconds that endless sounds go on after the last line")
        .shows_default()
        .in_range(0.0, 3600.0);
    command.option("--expect", arguments->expect, "Say how far a file of expectations is met; status 1 if not whole");
    command.option("--failures", arguments->pieces, "Draw the piece of each that is not met into this folder: PNG");
    command.option("--baseline", arguments->against,
                   "Say what is otherwise than in this log, or with the project in this folder; --picture draws both");
    command.flag("--strict", arguments->strict, "Status 1 for warnings about the run and for differences, too");
    command.flag("--json", arguments->json, "Print the summary as JSON");
    command.flag("--decisions", arguments->say, "Print the decisions, a line each, instead of the summary");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
