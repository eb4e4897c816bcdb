// kiai trace: what a trace holds; cut, joined, and beside a project.
#include "claim.h"
#include "command.h"
#include "documents.h"
#include "outputs.h"
#include "table.h"

#include <kiai/workshop/trace.h>

#include <fmt/format.h>

#include <iostream>
#include <map>
#include <memory>
#include <set>

namespace kiai::tool {
namespace {

struct Arguments {
    std::vector<std::string> words;
    double from = 0, to = 0, apart = 0;
    std::string out;
    bool json = false;
};

/// How often each kind of report comes, and what it names.
struct Kind {
    int count = 0;
    std::set<std::string> names;
};

std::map<ReportKind, Kind> kinds_of(const Trace& trace) {
    std::map<ReportKind, Kind> kinds;
    for (const TraceLine& line : trace.lines) {
        Kind& kind = kinds[line.report.kind];
        ++kind.count;
        if (line.report.name.empty()) continue;
        const bool pair = line.report.kind == ReportKind::contact;
        kind.names.insert(pair ? line.report.name + "+" + line.report.other : line.report.name);
    }
    return kinds;
}

double seconds_of(const Trace& trace) {
    return trace.lines.empty() ? 0 : static_cast<double>(trace.lines.back().due(trace.sample_rate)) / trace.sample_rate;
}

void print(const Trace& trace) {
    std::cout << fmt::format("{:.2f} s, {}, {} Hz{}\n", seconds_of(trace), counted(trace.lines.size(), "report"),
                             trace.sample_rate, trace.seed ? fmt::format(", seed {}", *trace.seed) : "");
    Table table({"report", "times", "names"});
    for (const auto& [kind, told] : kinds_of(trace))
        table.add({to_string(kind), std::to_string(told.count), fmt::format("{}", fmt::join(told.names, ", "))});
    if (!table.empty()) table.print();
}

std::map<std::string, Kind> kinds_by_name(const Trace& trace) {
    std::map<std::string, Kind> kinds;
    for (const auto& [kind, told] : kinds_of(trace)) kinds.emplace(to_string(kind), told);
    return kinds;
}

Status run(Arguments arguments) {
    bool good = true;
    std::optional<std::filesystem::path> project;
    std::error_code error;
    if (!arguments.words.empty() && std::filesystem::is_directory(arguments.words.front(), error)) {
        project = arguments.words.front();
        arguments.words.erase(arguments.words.begin());
    }
    if (arguments.words.empty()) {
        say_error("no trace is given; name a file of JSON Lines: kiai trace run.jsonl");
        return wrong_use;
    }
    if (const Status status = claim_output(arguments.out, {".jsonl"}, trace_mark); status != done) return status;
    if (arguments.to > 0 && arguments.to <= arguments.from) {
        say_error("--to lies before --from; give a later time");
        return wrong_use;
    }
    std::optional<Trace> trace;
    for (const std::string& word : arguments.words) {
        const LoadedTrace loaded = load_trace(word);
        for (const Finding& finding : loaded.findings) std::cerr << finding << '\n';
        good = good && loaded.ok();
        if (loaded.trace.lines.empty() && !loaded.ok()) return failed;
        if (project) {
            const LoadResult played = load_project(*project);
            for (const Finding& finding : check_trace(played.project, loaded.trace, word)) std::cerr << finding << '\n';
        }
        trace = trace ? join(*trace, loaded.trace, Seconds(arguments.apart)) : loaded.trace;
    }
    if (arguments.from > 0 || arguments.to > 0) trace = cut(*trace, Seconds(arguments.from), Seconds(arguments.to));
    if (!arguments.out.empty()) {
        if (const std::string why = save_own_trace(arguments.out, *trace); !why.empty()) {
            say_error(why);
            return not_written;
        }
        std::cerr << "wrote " << arguments.out << '\n';
    }
    if (arguments.json)
        std::cout << print_document(trace_document, *trace);
    else
        print(*trace);
    return good ? done : failed;
}

} // namespace

static void describe_members(Shape<Kind>& shape) {
    shape.has("times", "The number of reports.", &Kind::count).has("names", "What the reports name.", &Kind::names);
}

static void describe_members(Shape<Trace>& shape) {
    shape.has("reports", "The number of reports.", [](const Trace& trace) { return trace.lines.size(); })
        .has("rate", "Frames per second.", &Trace::sample_rate)
        .has("seconds", "The time of the last report.", seconds_of)
        .has("kinds", "The reports by kind: `press`, `contact` …", kinds_by_name);
}

const Document trace_document{"trace-summary", "The trace of `kiai trace --json`", 1,
                              [] { return shape_of<Trace>().schema(); }};

void add_trace(Commands& commands) {
    auto arguments = std::make_shared<Arguments>();
    Command command = commands.add("trace", "Tell what a trace holds; cut it, join several, hold it beside a project",
                                   "kiai trace marble-run marble-run/run.jsonl --from 15 --to 17 --out crowd.jsonl");
    command.option("what", arguments->words, "A project, to be told what no longer fits; then one trace or more")
        .required();
    command.option("--from", arguments->from, "Cut: from here, in seconds").at_least(0.0);
    command.option("--to", arguments->to, "Cut: to before here, in seconds").at_least(0.0);
    command.option("--interval", arguments->apart, "Join: seconds between one and the next").at_least(0.0);
    command.option("--out", arguments->out, "Write what it became: JSON Lines");
    add_force(command);
    command.flag("--json", arguments->json, "Print it as JSON");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
