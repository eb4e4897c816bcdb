// kiai rehearse: a trace through a project, without a device.
#include "command.h"
#include "outputs.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct Arguments {
    std::vector<std::string> words;
    Outputs outputs;
    std::optional<std::uint64_t> seed;
    double tail = 2;
    bool json = false, say = false;
};

Status run(Arguments arguments) {
    const auto folder = take_project(arguments.words, 1);
    if (arguments.words.empty()) {
        say_error("no trace is given; name a file of JSON Lines: kiai rehearse PROJECT TRACE");
        return wrong_use;
    }
    const Loaded loaded = load_or_say(folder);
    const LoadedTrace trace = load_trace(arguments.words.front());
    for (const Finding& finding : trace.findings) std::cerr << finding << '\n';
    if (trace.trace.lines.empty() && !trace.ok()) return failed;

    RehearseSettings settings;
    settings.seed = arguments.seed;
    settings.tail = Seconds(arguments.tail);
    const Rehearsal rehearsal = rehearse(loaded.project, trace.trace, settings);
    arguments.outputs.title = fmt::format("{}: {}", loaded.project.name().empty() ? "rehearsal" : loaded.project.name(),
                                          std::filesystem::path(arguments.words.front()).filename().string());
    if (!write_outputs(rehearsal, arguments.outputs)) return failed;
    if (arguments.json)
        std::cout << summary_json(rehearsal).dump(2) << '\n';
    else if (arguments.say)
        print_log(rehearsal);
    else
        print_summary(rehearsal);
    return loaded.ok() && trace.ok() ? done : failed;
}

} // namespace

void add_rehearse(CLI::App& app, Chosen& chosen) {
    auto arguments = std::make_shared<Arguments>();
    CLI::App& command =
        declare(app, "rehearse", "Run a trace through a project: a sound file, a decision log, a picture",
                "kiai rehearse marble-run marble-run/run.jsonl --out run.wav --log log.jsonl --picture run.png");
    command.add_option("what", arguments->words, "The project's folder, then the trace")->expected(1, 2)->required();
    add_sound_output(command, arguments->outputs);
    command.add_option("--log", arguments->outputs.log, "Write the decisions: JSON Lines");
    command.add_option("--picture", arguments->outputs.picture, "Write the picture: PNG");
    command.add_option("--from", arguments->outputs.from, "Draw the picture from here, in seconds")
        ->check(CLI::NonNegativeNumber);
    command.add_option("--to", arguments->outputs.to, "Draw the picture to here, in seconds")
        ->check(CLI::NonNegativeNumber);
    command.add_option("--seed", arguments->seed, "Seed of all chance; default: the trace's, else 1");
    command.add_option("--tail", arguments->tail, "Seconds that endless sounds go on after the last line")
        ->capture_default_str()
        ->check(CLI::Range(0.0, 3600.0));
    command.add_flag("--json", arguments->json, "Print the summary as JSON");
    command.add_flag("--say", arguments->say, "Print the decisions, a line each, instead of the summary");
    command.callback([arguments, &chosen] { chosen = [arguments] { return run(*arguments); }; });
}

} // namespace kiai::tool
