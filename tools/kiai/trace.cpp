// kiai trace: summarises, cuts and joins traces, and compares them with a project.
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

struct TraceArguments {
    Operands words;
    double from = 0, to = 0, apart = 0;
    std::string out;
    bool json = false;
};

/// How often a kind of report comes, and what it names.
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

Status run(TraceArguments arguments) {
    bool good = true;
    const auto project = take_optional_project(arguments.words);
    if (const Status status = claim_output(arguments.out, {".jsonl"}, trace_mark); status != done) return status;
    check_cut(arguments.from, arguments.to);
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
    auto arguments = std::make_shared<TraceArguments>();
    Command command = commands.add(Group::runs, "trace", "Summarise, cut, join or check traces");
    command.project(arguments->words, {{"TRACE…", "The traces: JSON Lines", Completes::file, {}}});
    add_cut(command, arguments->from, arguments->to, "of the trace");
    command.time("--interval", arguments->apart, 0, 3600, "Time between two joined traces");
    command.option("-o,--out", arguments->out, "FILE", "Write the resulting trace: .jsonl").completes(Completes::file);
    add_force(command);
    add_json(command, arguments->json);
    command.explain("With a project, reports what in the traces no longer fits the project.");
    command.fails_if("a trace cannot be read, or has an error");
    command.example("kiai trace marble-run marble-run/run.jsonl --start \"15 s\" --end \"17 s\" --out crowd.jsonl");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
