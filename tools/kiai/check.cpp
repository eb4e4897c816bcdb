// kiai check: all findings about a project at once, and mending what is certain.
#include "command.h"
#include "keys_out.h"
#include "table.h"

#include <kiai/workshop/expect.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <iostream>
#include <memory>
#include <sstream>

namespace kiai::tool {
namespace {

struct Arguments {
    std::vector<std::string> words;
    CheckOptions options;
    bool json = false, strict = false, fix = false, accepted = false, no_outside = false, codes = false;
    std::string keys;
};

int colour_of(Severity severity) {
    return severity == Severity::error ? 31 : severity == Severity::warning ? 33 : 36;
}

void print_json(const std::vector<Finding>& findings) {
    nlohmann::ordered_json all = nlohmann::ordered_json::array();
    for (const Finding& finding : findings) {
        nlohmann::ordered_json one{{"code", to_string(finding.code)},
                                   {"severity", to_string(finding.severity)},
                                   {"file", finding.file},
                                   {"line", finding.line},
                                   {"column", finding.column},
                                   {"entry", finding.entry},
                                   {"message", finding.message},
                                   {"fix", finding.fix}};
        if (!finding.replacement.empty()) one["replacement"] = finding.replacement;
        if (!finding.accepted.empty()) one["accepted"] = finding.accepted;
        all.push_back(std::move(one));
    }
    std::cout << all.dump(2, ' ', false, nlohmann::json::error_handler_t::replace) << '\n';
}

void print_one(const Finding& finding) {
    std::ostringstream line;
    line << finding;
    std::string text = line.str();
    const std::string severity = to_string(finding.severity), word = fmt::format(": {}: ", severity);
    const std::string shown =
        finding.accepted.empty() ? paint(severity, colour_of(finding.severity)) : "accepted " + severity;
    if (const auto at = text.find(word); at != std::string::npos) text.replace(at, word.size(), ": " + shown + ": ");
    if (!finding.accepted.empty()) text += "; accepted: " + finding.accepted;
    std::cout << text << '\n';
}

void print(const CheckResult& checked, bool with_accepted) {
    std::size_t accepted = 0;
    bool replacement = false;
    for (const Finding& finding : checked.findings) {
        accepted += finding.accepted.empty() ? 0 : 1;
        replacement = replacement || !finding.replacement.empty();
        if (finding.accepted.empty() || with_accepted) print_one(finding);
    }
    const auto of = [&](Severity severity) {
        return counted(static_cast<std::size_t>(count(checked.findings, severity)), to_string(severity));
    };
    std::cout << fmt::format("{}: {}, {}, {}{}\n", checked.name.empty() ? "project" : checked.name, of(Severity::error),
                             of(Severity::warning), of(Severity::note),
                             accepted > 0 ? fmt::format(", {} accepted", accepted) : "");
    if (replacement) std::cout << "some are beyond doubt: kiai check --fix\n";
}

/// Every kind of finding there is.
void print_codes(bool json) {
    nlohmann::ordered_json all = nlohmann::ordered_json::array();
    Table table({"finding", "severity", "what it means"});
    for (const FindingCode code : all_finding_codes()) {
        table.add({to_string(code), to_string(usual_severity(code)), explain(code)});
        all.push_back({{"number", static_cast<int>(code)},
                       {"code", to_string(code)},
                       {"severity", to_string(usual_severity(code))},
                       {"meaning", explain(code)}});
    }
    if (json)
        std::cout << all.dump(2) << '\n';
    else
        table.print();
}

Status run(Arguments arguments) {
    if (arguments.keys == "log") {
        arguments.json ? write_log_schema(std::cout) : write_log_reference(std::cout);
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
    const auto folder = take_project(arguments.words, 0);
    CheckOptions& options = arguments.options;
    options.outside = !arguments.no_outside;
    options.progress = progress_line("files looked at");
    if (arguments.fix) {
        const EditResult edited = fix_project(folder, options);
        if (!edited.ok() || !arguments.json) {
            if (const Status status = say_edit(edited); status != done) return status;
        }
    }
    const CheckResult checked = check_project(folder, options);
    if (arguments.json)
        print_json(checked.findings);
    else
        print(checked, arguments.accepted);
    const bool fails = count(checked.findings, Severity::error) > 0 ||
                       (arguments.strict && count(checked.findings, Severity::warning) > 0);
    return fails ? failed : done;
}

} // namespace

void add_check(Commands& commands) {
    auto arguments = std::make_shared<Arguments>();
    Command command =
        commands.add("check", "Find what is wrong or doubtful about a project", "kiai check marble-run --strict");
    command.option("project", arguments->words, "Folder that holds kiai.toml; default: this one or the nearest above")
        .expects(0, 1);
    command.flag("--json", arguments->json, "Print the findings as JSON");
    command.flag("--strict", arguments->strict, "Take warnings for errors");
    command.flag("--fix", arguments->fix, "Apply the fixes that are certain: a case, a moved file, a renamed key");
    command.flag("--accepted", arguments->accepted, "Print what the project accepts too");
    command.flag("--list", arguments->codes, "Print every kind of finding there is");
    command
        .option("--schema", arguments->keys,
                "Print every key of kiai.toml (project) or of files of expectations, or every field of the log; with "
                "--json as a JSON schema")
        .one_of({"project", "expectations", "log"})
        .expects(1);
    command.flag("--keep-facts", arguments->options.keep_facts,
                 "Keep what was measured in .kiai-facts.json, so that a moved file is found by its content");
    command.flag("--verify", arguments->options.verify, "Hash every file, instead of believing size and time");
    command.flag("--no-outside", arguments->no_outside, "Allow no file outside of the project");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
