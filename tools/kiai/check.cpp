// kiai check: prints all findings of a project, and applies the fixes that are certain.
#include "command.h"
#include "documents.h"
#include "keys_out.h"
#include "table.h"

#include <kiai/workshop/code.h>
#include <kiai/workshop/expect.h>

#include <fmt/format.h>

#include <algorithm>
#include <iostream>
#include <map>
#include <memory>

namespace kiai::tool {
namespace {

struct CheckArguments {
    Operands words;
    CheckOptions options;
    bool json = false, strict = false, fix = false, accepted = false, all = false, no_outside = false, codes = false;
    std::string keys;
    std::vector<std::string> code;
};

int colour_of(Severity severity) {
    return severity == Severity::error ? 31 : severity == Severity::warning ? 33 : 36;
}

void print_one(const Finding& finding) {
    const std::string severity = to_string(finding.severity);
    std::cout << to_string(finding, finding.accepted.empty() ? paint(severity, colour_of(finding.severity))
                                                             : "accepted " + severity);
    if (!finding.accepted.empty()) std::cout << "; accepted: " << finding.accepted;
    std::cout << '\n';
}

/// This many findings of a kind are printed; the others are counted.
constexpr std::size_t most_of_a_kind = 5;

void print(const CheckResult& checked, bool with_accepted, bool all) {
    std::size_t accepted = 0;
    bool replacement = false;
    std::map<FindingCode, std::size_t> of_code;
    for (const Finding& finding : checked.findings) {
        accepted += finding.accepted.empty() ? 0 : 1;
        replacement = replacement || !finding.replacement.empty();
        if ((finding.accepted.empty() || with_accepted) && (++of_code[finding.code] <= most_of_a_kind || all))
            print_one(finding);
    }
    for (const auto& [code, count] : of_code)
        if (count > most_of_a_kind && !all)
            std::cout << fmt::format("… and {} more [{}]; --all prints them\n", count - most_of_a_kind,
                                     to_string(code));
    const auto of = [&](Severity severity) {
        return counted(static_cast<std::size_t>(count(checked.findings, severity)), to_string(severity));
    };
    std::cout << fmt::format("{}: {}, {}, {}{}\n", checked.name.empty() ? "project" : checked.name, of(Severity::error),
                             of(Severity::warning), of(Severity::note),
                             accepted > 0 ? fmt::format(", {} accepted", accepted) : "");
    if (replacement) std::cout << "some can be fixed automatically: kiai check --fix\n";
}

struct Codes {
    std::vector<FindingCode> codes;
};

/// Prints every kind of finding.
void print_codes(bool json) {
    if (json) {
        std::cout << print_document(codes_document, Codes{all_finding_codes()});
        return;
    }
    Table table({"finding", "severity", "what it means"});
    for (const FindingCode code : all_finding_codes())
        table.add({to_string(code), to_string(usual_severity(code)), explain(code)});
    table.print();
}

/// Returns the names that `--schema` takes.
std::vector<std::string> schema_names() {
    std::vector<std::string> names{"project", "expectations", "log"};
    for (const Document& document : documents()) names.emplace_back(document.name);
    return names;
}

Status run(CheckArguments arguments) {
    if (arguments.keys == "log") {
        arguments.json ? write_log_schema(std::cout) : write_log_reference(std::cout);
        return done;
    }
    for (const Document& document : documents())
        if (arguments.keys == document.name) {
            arguments.json ? void(std::cout << schema_of(document).print()) : write_reference(std::cout, document);
            return done;
        }
    if (!arguments.keys.empty()) {
        const bool project = arguments.keys == "project";
        const Keys& keys = project ? project_keys() : expectation_keys();
        if (arguments.json)
            write_schema(std::cout, keys, project ? "kiai.toml" : "expectations");
        else
            write_reference(std::cout, keys);
        return done;
    }
    if (arguments.codes) {
        print_codes(arguments.json);
        return done;
    }
    const auto folder = take_project(arguments.words);
    CheckOptions& options = arguments.options;
    options.outside = !arguments.no_outside;
    options.progress = progress_line("files checked");
    if (arguments.fix) {
        const EditResult edited = fix_project(folder, options);
        if (!edited.ok() || !arguments.json) {
            if (const Status status = say_edit(edited); status != done) return status;
        }
    }
    CheckResult checked = check_project(folder, options);
    CodeResult code;
    if (!arguments.code.empty()) {
        code = check_code(folder, {arguments.code.begin(), arguments.code.end()});
        checked.findings.insert(checked.findings.end(), code.findings.begin(), code.findings.end());
    }
    if (arguments.json)
        std::cout << print_document(check_document, checked);
    else
        print(checked, arguments.accepted, arguments.all);
    if (!arguments.code.empty() && !arguments.json)
        std::cout << fmt::format("code: {} in {}, {}\n", counted(code.names, "name"), counted(code.files, "file"),
                                 counted(code.lines, "line"));
    const bool fails = count(checked.findings, Severity::error) > 0 ||
                       (arguments.strict && count(checked.findings, Severity::warning) > 0);
    return fails ? failed : done;
}

} // namespace

void describe_members(Shape<Finding>& shape) {
    static const auto text_or_nothing = [](const std::string& text) {
        return text.empty() ? std::nullopt : std::optional(text);
    };
    shape
        .has("code", "The kind of finding: a word that never changes.",
             [](const Finding& finding) { return to_string(finding.code); })
        .has("severity", "How bad the finding is.", [](const Finding& finding) { return to_string(finding.severity); })
        .one_of({"error", "warning", "note"})
        .has("file", "The file that the finding is about.", &Finding::file)
        .has("line", "The line in the file, from 1; 0: the whole file.", &Finding::line)
        .has("column", "The column in the line, from 1; 0: the whole line.", &Finding::column)
        .has("entry", "The entry of the project: `sound \"oak\"`.", &Finding::entry)
        .has("message", "The problem.", &Finding::message)
        .has("fix", "What to do about it.", &Finding::fix)
        .has("replacement", "What `--fix` writes in place of the value; missing if the fix is not certain.",
             [](const Finding& finding) { return text_or_nothing(finding.replacement); })
        .has("accepted", "Why the project accepts the finding; missing if it does not.",
             [](const Finding& finding) { return text_or_nothing(finding.accepted); });
}

static void describe_members(Shape<CheckResult>& shape) {
    shape.has("findings", "All findings, in the order of the file.",
              [](const CheckResult& checked) { return checked.findings; });
}

static void describe_members(Shape<FindingCode>& shape) {
    shape
        .has("number", "The number of the kind, which never changes.",
             [](FindingCode code) { return static_cast<int>(code); })
        .has("code", "The name of the kind.", [](FindingCode code) { return to_string(code); })
        .has("severity", "The usual severity.", [](FindingCode code) { return to_string(usual_severity(code)); })
        .one_of({"error", "warning", "note"})
        .has("meaning", "What the finding means.", [](FindingCode code) { return explain(code); });
}

static void describe_members(Shape<Codes>& shape) {
    shape.has("codes", "Every kind of finding there is.", &Codes::codes);
}

const Document check_document{"check", "The findings of `kiai check --json`", 1,
                              [] { return shape_of<CheckResult>().schema(); }};
const Document codes_document{"finding-codes", "The kinds of findings, of `kiai check --list --json`", 1,
                              [] { return shape_of<Codes>().schema(); }};

void add_check(Commands& commands) {
    auto arguments = std::make_shared<CheckArguments>();
    Command command = commands.add(Group::project, "check", "Find problems in a project and its audio files");
    command.project(arguments->words);
    command.flag("--strict", arguments->strict, "Treat warnings as errors");
    command.flag("--fix", arguments->fix, "Apply the fixes that are certain: letter case, moved files, renamed keys");
    add_dry_run(command, arguments->options.dry_run);
    command.flag("--all", arguments->all, "Print all findings of a kind (default: the first five)");
    command.flag("--accepted", arguments->accepted, "Print accepted findings too");
    command.flag("--no-outside", arguments->no_outside, "Report files outside of the project's folder as errors");
    command
        .option("--code", arguments->code, "FOLDER",
                "Check the names in the app's source too: C, C++, Lua and Python; may be repeated")
        .repeatable()
        .completes(Completes::folder);
    command.flag("--verify", arguments->options.verify, "Hash every file, instead of trusting its size and time");
    command.flag("--keep-facts", arguments->options.keep_facts,
                 "Keep measurements in .kiai-facts.json, which also finds a moved file by its content");
    command.flag("--list", arguments->codes, "List every kind of finding");
    command
        .option("--schema", arguments->keys, "NAME",
                "Print the keys of kiai.toml (project) or of expectations, the fields of the log, or a document of "
                "--json; with --json as a JSON schema")
        .one_of(schema_names());
    add_json(command, arguments->json);
    command.explain("`kiai explain CODE` explains a finding.");
    command.fails_if("the project has an error, or with --strict a warning");
    command.example("kiai check marble-run --strict");
    command.example("kiai check marble-run --code src");
    command.example("kiai check marble-run --fix --dry-run");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
