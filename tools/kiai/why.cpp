// kiai why: the chain from a name or a trigger to the ear, up to the link that is broken.
#include "command.h"

#include <kiai/workshop/why.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct Arguments {
    std::vector<std::string> words;
    std::string trace, log;
    bool json = false;
};

std::string place_of(const Diagnosis& why) {
    if (why.file.empty()) return {};
    return why.line > 0 ? fmt::format("{}:{}: ", why.file, why.line) : why.file + ": ";
}

void print(const Diagnosis& why) {
    for (const Diagnosis::Step& step : why.chain) {
        const std::string line =
            fmt::format("{}  {:<10}  {}", step.holds ? "yes" : "NO ", to_string(step.link), step.detail);
        std::cout << paint(line.substr(0, line.find_last_not_of(' ') + 1), step.holds ? 32 : 31) << '\n';
    }
    if (why.heard())
        std::cout << why.subject << " is heard\n";
    else
        std::cout << fmt::format("{}{} is silent; {}\n", place_of(why), why.subject, why.fix);
}

nlohmann::ordered_json json_of(const Diagnosis& why) {
    nlohmann::ordered_json out{{"subject", why.subject}, {"heard", why.heard()}, {"chain", nlohmann::json::array()}};
    for (const Diagnosis::Step& step : why.chain)
        out["chain"].push_back({{"link", to_string(step.link)}, {"holds", step.holds}, {"detail", step.detail}});
    if (!why.heard())
        out.update(
            {{"broken", to_string(why.broken()->link)}, {"fix", why.fix}, {"file", why.file}, {"line", why.line}});
    return out;
}

Status run(Arguments arguments) {
    const auto folder = take_project(arguments.words, std::string::npos);
    if (arguments.words.empty()) {
        say_error(
            "nothing is asked about; name a sound or a trigger: kiai why PROJECT oak, kiai why PROJECT press 118 82");
        return wrong_use;
    }
    const std::string about = joined(arguments.words);
    const Project project = load_project(folder, {.progress = progress_line("clips decoded")}).project;
    Diagnosis why;
    if (!arguments.log.empty()) {
        const LoadedLog log = load_log(arguments.log);
        if (!say_findings(log.findings)) return failed;
        why = why_silent(project, about, log.rehearsal);
    } else if (!arguments.trace.empty()) {
        const LoadedTrace trace = load_trace(arguments.trace);
        if (!say_findings(trace.findings)) return failed;
        why = why_silent(project, about, rehearse(project, trace.trace));
    } else {
        why = why_silent(project, about);
    }
    if (arguments.json)
        std::cout << json_of(why).dump(2) << '\n';
    else
        print(why);
    return why.heard() ? done : failed;
}

} // namespace

void add_why(Commands& commands) {
    auto arguments = std::make_shared<Arguments>();
    Command command = commands.add("why", "Say why something is silent: the first broken link, and its fix",
                                   "kiai why marble-run oak\n  kiai why marble-run press 118 82\n  kiai why marble-run "
                                   "warning --from-trace marble-run/run.jsonl");
    command
        .option("what", arguments->words,
                "The project's folder; then a sound (oak) or a trigger (press hopper, press 118 82, contact marble "
                "oak)")
        .required();
    const Option trace =
        command.option("--from-trace", arguments->trace, "Ask what happened when this trace is rehearsed");
    command.option("--from-log", arguments->log, "Ask what happened when this log was written").excludes(trace);
    command.flag("--json", arguments->json, "Print the chain as JSON");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
