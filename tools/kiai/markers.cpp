// kiai markers: finds the markers of a motion from recorded taps.
#include "command.h"
#include "documents.h"
#include "table.h"

#include <kiai/workshop/markers.h>

#include <fmt/format.h>

#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct MarkersArguments {
    Operands words;
    TapOptions options;
    bool json = false;
};

Status run(MarkersArguments arguments) {
    const auto folder = take_project(arguments.words);
    const LoadedTrace trace = load_trace(arguments.words[0]);
    if (!say_findings(trace.findings) && trace.trace.lines.empty()) return failed;
    const TappedMarkers found =
        mark_taps(folder, trace.trace, arguments.words[1], arguments.words[2], arguments.options);
    if (arguments.json) {
        std::cout << print_document(markers_document, found);
        return say_findings(found.edited.findings) ? done : failed;
    }
    if (!found.markers.empty()) {
        Table table({"frame", "taps", "spread", ""});
        for (const TappedMarker& one : found.markers)
            table.add({fmt::format("{}", one.frame), std::to_string(one.taps),
                       fmt::format("±{:.0f} ms", 1000 * one.spread),
                       one.used ? "" : "ignored: in less than half of the turns"});
        table.print();
        std::cout << fmt::format("{:.1f} turns\n", found.turns);
    }
    return say_edit(found.edited);
}

} // namespace

static void describe_members(Shape<TappedMarker>& shape) {
    shape.has("frame", "The median of the taps, in frames of the motion.", &TappedMarker::frame)
        .has("taps", "The number of taps.", &TappedMarker::taps)
        .has("spread", "Half of the range of the taps, in seconds.", &TappedMarker::spread)
        .has("used", "false: the taps were ignored, because they are in less than half of the turns.",
             &TappedMarker::used);
}

static void describe_members(Shape<TappedMarkers>& shape) {
    shape.has("markers", "The markers, in the order of their frames.", &TappedMarkers::markers)
        .has("turns", "How often the motion passed its whole length.", &TappedMarkers::turns);
}

const Document markers_document{"motion-markers", "The markers of `kiai markers --json`", 1,
                                [] { return shape_of<TappedMarkers>().schema(); }};

void add_markers(Commands& commands) {
    auto arguments = std::make_shared<MarkersArguments>();
    Command command = commands.add(Group::runs, "markers", "Set markers of a motion from recorded taps");
    command.project(arguments->words, {{"TRACE", "A trace with playheads and taps: JSON Lines", Completes::file, {}},
                                       {"MOTION", "The motion that ran", {}, {}},
                                       {"MARKER", "The marker that the taps set", {}, {}}});
    command.option("--notice", arguments->options.notice, "NAME", "The notice that the app gives at each tap")
        .shows_default();
    add_dry_run(command, arguments->options.dry_run);
    add_json(command, arguments->json);
    command.fails_if("the trace has no taps, or the motion is unknown");
    command.example("kiai markers marble-run taps.jsonl paddle paddle --dry-run");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
