// kiai list: lists the entries of a project.
#include "command.h"
#include "documents.h"
#include "table.h"
#include "usage.h"

#include <kiai/workshop/catalogue.h>
#include <kiai/workshop/rehearse.h>

#include <fmt/format.h>

#include <algorithm>
#include <fstream>
#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

const std::vector<std::string> kinds{"clips", "sounds", "bindings", "zones",     "buses",
                                     "dials", "scopes", "motions",  "sequences", "notices"};

std::string singular(const std::string& kind) {
    return kind == "buses" ? "bus" : kind.substr(0, kind.size() - 1);
}
const std::vector<std::string> states{"used",    "unused",   "unbound", "variant",
                                      "pending", "left-out", "unknown", "never-fired"};

struct ListArguments {
    Operands words;
    CatalogueFilter filter;
    std::string log;
    bool json = false;
};

std::string cell(const CatalogueEntry::Detail& detail) {
    if (const auto* text = std::get_if<std::string>(&detail)) return *text;
    if (const auto* truth = std::get_if<bool>(&detail)) return *truth ? "yes" : "no";
    if (const auto* number = std::get_if<double>(&detail)) return fmt::format("{:.2f}", *number);
    return std::to_string(std::get<std::int64_t>(detail));
}

std::vector<CatalogueEntry> of_kind(const Catalogue& all, const std::string& kinds_name) {
    std::vector<CatalogueEntry> some;
    for (const CatalogueEntry& listed : all.entries)
        if (listed.kind == singular(kinds_name)) some.push_back(listed);
    return some;
}

void print_table(const std::string& kind, const std::vector<CatalogueEntry>& entries) {
    std::cout << paint(entries.size() == 1 ? "1 " + singular(kind) : fmt::format("{} {}", entries.size(), kind), 36)
              << '\n';
    if (entries.empty()) return;
    // Excluded entries have no details, so the longest row has all columns.
    const CatalogueEntry& fullest =
        *std::max_element(entries.begin(), entries.end(), [](const CatalogueEntry& a, const CatalogueEntry& b) {
            return a.details.size() < b.details.size();
        });
    std::vector<std::string> heads{"name"};
    for (const auto& [head, detail] : fullest.details) heads.push_back(head);
    heads.insert(heads.end(), {"state", "line"});
    Table table(heads);
    for (const CatalogueEntry& listed : entries) {
        std::vector<std::string> cells{listed.name};
        for (const auto& [head, detail] : listed.details) cells.push_back(cell(detail));
        cells.resize(1 + fullest.details.size());
        cells.insert(cells.end(), {listed.state, std::to_string(listed.line)});
        table.add(std::move(cells));
    }
    table.print();
}

Json details_of(const CatalogueEntry& entry) {
    Json details = Json::object();
    for (const auto& [head, detail] : entry.details)
        details[head] = std::visit([](const auto& value) { return Json(value); }, detail);
    return details;
}

bool read_log(const std::string& path, CatalogueFilter& filter) {
    std::ifstream log(path);
    if (!log) {
        say_error(path + ": cannot be read; name a log of `kiai rehearse --log`");
        return false;
    }
    filter.fired = bindings_in_log(log);
    return true;
}

Status run(ListArguments arguments) {
    const auto folder = take_project(arguments.words);
    const std::vector<std::string>& words = arguments.words;
    if (!words.empty() && std::find(kinds.begin(), kinds.end(), words.front()) == kinds.end())
        throw WrongUse(not_one_of("kiai list", words.front(), kinds));
    if (!arguments.log.empty() && !read_log(arguments.log, arguments.filter)) return failed;
    if (arguments.filter.state == "never-fired" && arguments.log.empty()) {
        say_error("--state never-fired needs a log: --from-log log.jsonl");
        return wrong_use;
    }
    const std::string kind = words.empty() ? "" : words.front();
    if (!kind.empty()) arguments.filter.kind = singular(kind);
    const Catalogue all = catalogue(folder, arguments.filter);
    const bool good = say_findings(all.findings, Severity::error);
    if (arguments.json) {
        std::cout << print_document(list_document, all);
        return good ? done : failed;
    }
    bool first = true;
    for (const std::string& one : kinds) {
        const std::vector<CatalogueEntry> entries = of_kind(all, one);
        if (kind.empty() ? entries.empty() : one != kind) continue;
        if (!std::exchange(first, false)) std::cout << '\n';
        print_table(one, entries);
    }
    const bool is_there = std::none_of(all.findings.begin(), all.findings.end(),
                                       [](const Finding& finding) { return finding.code == FindingCode::no_project; });
    if (first && is_there) std::cout << "no such entries\n";
    return good ? done : failed;
}

} // namespace

static void describe_members(Shape<CatalogueEntry>& shape) {
    std::vector<std::string> kind_words;
    for (const std::string& kind : kinds) kind_words.push_back(singular(kind));
    shape.has("kind", "The kind of entry.", &CatalogueEntry::kind)
        .one_of(kind_words)
        .has("name", "The name of the entry; of a binding: its trigger.", &CatalogueEntry::name)
        .has("state", "Whether the entry is used, and if not, why.", &CatalogueEntry::state)
        .one_of(states)
        .has("line", "The line of the entry in kiai.toml.", &CatalogueEntry::line)
        .has("details", "What the columns of the table hold, by their headings.", details_of)
        .described_as(
            Json::object({{"type", "object"},
                          {"additionalProperties",
                           Json::object({{"type", Json::array({"string", "number", "integer", "boolean"})}})}}));
}

static void describe_members(Shape<Catalogue>& shape) {
    shape.has("project", "The name of the project.", &Catalogue::project)
        .has("entries", "The entries, by kind, in the order of kiai.toml.", &Catalogue::entries);
}

const Document list_document{"list", "The entries of `kiai list --json`", 1,
                             [] { return shape_of<Catalogue>().schema(); }};

void add_list(Commands& commands) {
    auto arguments = std::make_shared<ListArguments>();
    Command command = commands.add(Group::project, "list", "List and search the entries of a project");
    command.project(arguments->words, {{"[KIND]", "What to list (default: everything)", {}, kinds}});
    command.option("--find", arguments->filter.word, "WORD",
                   "Only entries with this word in a name, file, action or licence");
    command.option("--folder", arguments->filter.folder, "FOLDER", "Only clips in this folder of the project")
        .completes(Completes::folder);
    command.option("--state", arguments->filter.state, "STATE", "Only entries in this state").one_of(states);
    command.option("--from-log", arguments->log, "FILE", "Read from this log which bindings never fired")
        .completes(Completes::file);
    add_json(command, arguments->json);
    command.fails_if("the project has an error");
    command.example("kiai list marble-run clips --find oak --state unused");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
