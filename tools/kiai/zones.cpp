// kiai zones: lists pointer zones, and finds the zone of a press.
#include "claim.h"
#include "command.h"
#include "documents.h"
#include "table.h"

#include <kiai/workshop/catalogue.h>
#include <kiai/workshop/picture.h>
#include <kiai/workshop/zone_import.h>

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct ZonesArguments {
    Operands words;
    std::vector<double> press;
    std::string scope, picture, from, over;
    ZoneImportOptions import;
    bool json = false;
};

/// Returns what presses hit: those of a trace, and then the requested one.
std::vector<ZonePress> presses(const Project& project, const ZonesArguments& arguments, bool& good) {
    std::vector<ZonePress> all;
    if (!arguments.words.empty()) {
        const LoadedTrace trace = load_trace(arguments.words.front());
        for (const Finding& finding : trace.findings) std::cerr << finding << '\n';
        good = good && trace.ok();
        all = presses_of(project, rehearse(project, trace.trace));
    }
    if (!arguments.press.empty()) {
        Trace trace;
        Report report;
        if (!arguments.scope.empty()) {
            report.kind = ReportKind::scope_enter;
            report.name = arguments.scope;
            trace.lines.push_back({0, std::nullopt, report});
        }
        report.kind = ReportKind::press;
        report.point = {static_cast<float>(arguments.press[0]), static_cast<float>(arguments.press[1])};
        trace.lines.push_back({0, std::nullopt, report});
        for (ZonePress& press : presses_of(project, rehearse(project, trace))) all.push_back(std::move(press));
    }
    return all;
}

std::string text_of(const CatalogueEntry& zone, const std::string& key) {
    for (const auto& [name, detail] : zone.details)
        if (name == key) {
            if (const auto* text = std::get_if<std::string>(&detail)) return *text;
            if (const auto* number = std::get_if<double>(&detail)) return fmt::format("{:g}", *number);
            if (const auto* whole = std::get_if<std::int64_t>(&detail)) return std::to_string(*whole);
        }
    return {};
}

int order_of(const CatalogueEntry& zone) {
    const std::string text = text_of(zone, "order");
    return text.empty() ? 0 : std::stoi(text); // empty: it was left out for an error
}

/// Returns what is bound to each zone: `press`, `enter` …
std::string bound(const Catalogue& all, const std::string& zone) {
    std::string text;
    for (const CatalogueEntry& binding : all.entries) {
        if (binding.kind != "binding") continue;
        for (const char* kind : {"press", "release", "enter", "leave"})
            if (binding.name == std::string(kind) + " " + zone) text += (text.empty() ? "" : ", ") + std::string(kind);
    }
    return text;
}

struct ZoneShown {
    std::string name;
    int order = 0;
    std::string shape, scope, bound;
    bool covered = false;
};

struct ZonesShown {
    std::vector<ZoneShown> zones;
    std::vector<ZonePress> presses;
};

const char* text_of(ImportedZone::Outcome outcome) {
    constexpr const char* texts[] = {"added", "changed", "unchanged", "refused"};
    return texts[static_cast<int>(outcome)];
}

/// Makes zones of a drawing.
Status import(const std::filesystem::path& folder, const ZonesArguments& arguments) {
    ZoneImportOptions options = arguments.import;
    options.scope = arguments.scope;
    const ZoneImport made = import_zones(folder, arguments.from, options);
    const bool good = say_findings(made.edited.findings);
    if (arguments.json) {
        std::cout << print_document(import_document, made);
        return good ? done : failed;
    }
    if (!good) return failed;
    Table table({"order", "zone", "shape", "", ""});
    for (const ImportedZone& zone : made.zones)
        table.add({std::to_string(zone.order), zone.name,
                   zone.corners > 0
                       ? fmt::format("{}, {}", zone.shape, counted(static_cast<std::size_t>(zone.corners), "corner"))
                       : zone.shape,
                   text_of(zone.outcome), zone.why.empty() ? "" : zone.why + "; " + zone.fix});
    if (!table.empty()) table.print();
    if (made.unnamed > 0)
        std::cout << counted(made.unnamed, "shape") << " without a name ignored; --unnamed NAME adds them\n";
    const auto refused = [](const ImportedZone& zone) { return zone.outcome == ImportedZone::Outcome::refused; };
    return made.zones.empty() || std::any_of(made.zones.begin(), made.zones.end(), refused) ? failed : done;
}

Status run(ZonesArguments arguments) {
    const auto folder = take_project(arguments.words);
    if (!arguments.from.empty()) return import(folder, arguments);
    if (!arguments.over.empty() && arguments.picture.empty()) throw WrongUse("--over needs --picture FILE");
    const LoadResult loaded = load_or_say(folder);
    const CheckResult checked = check_project(folder);
    const Catalogue all = catalogue(folder);
    const auto same = [&](const CatalogueEntry& entry) {
        return entry.kind == "scope" && entry.name == arguments.scope;
    };
    if (!arguments.scope.empty() && std::none_of(all.entries.begin(), all.entries.end(), same)) {
        throw WrongUse(fmt::format("unknown scope \"{}\"; `kiai list scopes` lists all", arguments.scope));
    }
    bool good = loaded.ok();
    ZonePicture picture;
    for (const Finding& finding : checked.findings)
        if (finding.code == FindingCode::covered_zone) picture.covered.insert(finding.entry);
    picture.presses = presses(loaded.project, arguments, good);
    if (const Status status = claim_output(arguments.picture, {".png"}, picture_mark); status != done) return status;
    if (!arguments.picture.empty()) {
        picture.over = arguments.over;
        picture.scope = arguments.scope;
        picture.title = fmt::format("{}: zones", loaded.project.name().empty() ? "project" : loaded.project.name());
        if (const std::string error = draw_zones(arguments.picture, loaded.project, picture); !error.empty()) {
            say_error(error);
            return not_written;
        }
    }
    std::vector<CatalogueEntry> zones;
    for (const CatalogueEntry& entry : all.entries)
        if (entry.kind == "zone") zones.push_back(entry);
    std::reverse(zones.begin(), zones.end()); // of equal orders the one that comes later in the file is in front
    std::stable_sort(zones.begin(), zones.end(),
                     [](const CatalogueEntry& a, const CatalogueEntry& b) { return order_of(a) > order_of(b); });
    if (arguments.json) {
        ZonesShown shown{{}, picture.presses};
        for (const CatalogueEntry& zone : zones)
            shown.zones.push_back({zone.name, order_of(zone), text_of(zone, "shape"), text_of(zone, "scope"),
                                   bound(all, zone.name), picture.covered.contains(zone.name)});
        std::cout << print_document(zones_document, shown);
        return good ? done : failed;
    }
    Table table({"order", "zone", "shape", "scope", "bound", ""});
    for (const CatalogueEntry& zone : zones)
        table.add({text_of(zone, "order"), zone.name, text_of(zone, "shape"), text_of(zone, "scope"),
                   bound(all, zone.name), picture.covered.contains(zone.name) ? "covered" : ""});
    if (!table.empty()) table.print();
    for (const ZonePress& press : picture.presses)
        std::cout << fmt::format("press {:g} {:g}: {}\n", press.point.x, press.point.y,
                                 press.zone.empty() ? "no zone" : "zone " + press.zone);
    if (!arguments.picture.empty()) std::cerr << "wrote " << arguments.picture << '\n';
    return good ? done : failed;
}

} // namespace

static void describe_members(Shape<ZoneShown>& shape) {
    shape.has("name", "The name of the zone.", &ZoneShown::name)
        .has("order", "The order of the zone; a higher one is in front.", &ZoneShown::order)
        .has("shape", "The shape and the size of the zone, in words.", &ZoneShown::shape)
        .has("scope", "The scope of the zone; empty: none.", &ZoneShown::scope)
        .has("bound", "The pointer triggers that are bound to the zone, separated by commas.", &ZoneShown::bound)
        .has("covered", "true: zones in front of this one cover all of it.", &ZoneShown::covered);
}

static void describe_members(Shape<ZonePress>& shape) {
    shape
        .has("at", "The point of the press: x and y.",
             [](const ZonePress& press) {
                 return std::array{press.point.x, press.point.y};
             })
        .has("zone", "The zone that takes the press; empty: none.", &ZonePress::zone);
}

static void describe_members(Shape<ZonesShown>& shape) {
    shape.has("zones", "The zones, from front to back.", &ZonesShown::zones)
        .has("presses", "The presses of the trace, and then the one of `--press`.", &ZonesShown::presses);
}

const Document zones_document{"zone-list", "The zones of `kiai zones --json`", 1,
                              [] { return shape_of<ZonesShown>().schema(); }};

static void describe_members(Shape<ImportedZone>& shape) {
    shape.has("name", "The name of the zone.", &ImportedZone::name)
        .has("outcome", "What became of the shape.", [](const ImportedZone& zone) { return text_of(zone.outcome); })
        .one_of({"added", "changed", "unchanged", "refused"})
        .has("shape", "`circle`, `ellipse`, `rectangle` or `polygon`.", &ImportedZone::shape)
        .has("corners", "The number of corners of a polygon.", &ImportedZone::corners)
        .has("order", "The place of the shape in the drawing, from 1.", &ImportedZone::order)
        .has("why", "Why the shape was refused.", &ImportedZone::why)
        .has("fix", "What to do about it.", &ImportedZone::fix);
}

static void describe_members(Shape<ZoneImport>& shape) {
    shape.has("zones", "The named shapes, in the order of the drawing.", &ZoneImport::zones)
        .has("unnamed", "The number of shapes without a name.", &ZoneImport::unnamed);
}

const Document import_document{"zone-import", "The zones of `kiai zones --from FILE --json`", 1,
                               [] { return shape_of<ZoneImport>().schema(); }};

void add_zones(Commands& commands) {
    auto arguments = std::make_shared<ZonesArguments>();
    Command command = commands.add(Group::runs, "zones", "List pointer zones, and find the zone of a press");
    command.project(arguments->words, {{"[TRACE]", "A trace whose presses are shown", Completes::file, {}}});
    command.option("--press", arguments->press, "X Y", "Find the zone that receives a press here");
    command.option("--scope", arguments->scope, "NAME",
                   "Enter this scope before that press; with --from: the scope of new zones");
    command.option("--from", arguments->from, "FILE", "Add the named shapes of a drawing as zones: .svg")
        .completes(Completes::file);
    command.option("--tolerance", arguments->import.tolerance, "NUMBER", "Distance of corners from curves, in pixels")
        .shows_default()
        .in_range(0.01, 100.0);
    command.option("--unnamed", arguments->import.unnamed, "NAME",
                   "Name shapes without a name NAME-1, NAME-2 … (default: ignore them)");
    command.option("--over", arguments->over, "FILE", "Draw the picture on one of the app: .png")
        .completes(Completes::file);
    add_dry_run(command, arguments->import.dry_run);
    command.option("--picture", arguments->picture, "FILE", "Write a picture of the zones: .png")
        .completes(Completes::file);
    add_force(command);
    add_json(command, arguments->json);
    command.fails_if("the project or the trace has an error");
    command.example("kiai zones marble-run --press 118 82");
    command.example("kiai zones marble-run --from drawing.svg --dry-run");
    command.example("kiai zones marble-run marble-run/run.jsonl --picture zones.png");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
