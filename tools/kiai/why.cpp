// kiai why: follows the chain from a name or a trigger to the ear, up to the broken link.
#include "command.h"
#include "documents.h"

#include <kiai/workshop/why.h>

#include <fmt/format.h>

#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct WhyArguments {
    Operands words;
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

/// Describes a broken chain.
template<class Get>
auto if_silent(Get get) {
    return [get](const Diagnosis& why) { return why.heard() ? std::nullopt : std::optional(std::invoke(get, why)); };
}

Status run(WhyArguments arguments) {
    const auto folder = take_project(arguments.words);
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
        std::cout << print_document(why_document, why);
    else
        print(why);
    return why.heard() ? done : failed;
}

} // namespace

static void describe_members(Shape<Diagnosis::Step>& shape) {
    std::vector<std::string> links;
    for (int link = 0; link <= static_cast<int>(Link::device); ++link)
        links.emplace_back(to_string(static_cast<Link>(link)));
    shape.has("link", "The link of the chain.", [](const Diagnosis::Step& step) { return to_string(step.link); })
        .one_of(links)
        .has("holds", "false: this link is broken, and the chain ends here.", &Diagnosis::Step::holds)
        .has("detail", "What was found, in words.", &Diagnosis::Step::detail);
}

static void describe_members(Shape<Diagnosis>& shape) {
    shape.has("subject", "What was asked about: `sound oak`, `press hopper`.", &Diagnosis::subject)
        .has("heard", "true: no link is broken.", &Diagnosis::heard)
        .has("chain", "The links from the name to the ear, in order; only the last can be broken.", &Diagnosis::chain)
        .has("broken", "The broken link; missing if the subject is heard.",
             if_silent([](const Diagnosis& why) { return to_string(why.broken()->link); }))
        .has("fix", "What to do about the broken link.", if_silent(&Diagnosis::fix))
        .has("file", "The file to change; empty: no file.", if_silent(&Diagnosis::file))
        .has("line", "The line in the file, from 1; 0: the whole file.", if_silent(&Diagnosis::line));
}

const Document why_document{"why", "The diagnosis of `kiai why --json`", 1,
                            [] { return shape_of<Diagnosis>().schema(); }};

void add_why(Commands& commands) {
    auto arguments = std::make_shared<WhyArguments>();
    Command command = commands.add(Group::runs, "why", "Find out why something is silent");
    command.project(arguments->words,
                    {{"NAME…", "A sound (oak) or a trigger (press hopper, press 118 82, contact marble oak)", {}, {}}});
    const Option trace = command.option("--from-trace", arguments->trace, "FILE", "Ask about the rehearsal of a trace")
                             .completes(Completes::file);
    command.option("--from-log", arguments->log, "FILE", "Ask about the run that wrote a log")
        .completes(Completes::file)
        .excludes(trace);
    add_json(command, arguments->json);
    command.explain("Follows the chain from the name to the output device, and stops at the first step that fails.");
    command.fails_if("it is silent");
    command.example("kiai why marble-run oak");
    command.example("kiai why marble-run press 118 82");
    command.example("kiai why marble-run warning --from-trace marble-run/run.jsonl");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
