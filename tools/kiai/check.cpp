// kiai check: all findings about a project at once.
#include "command.h"

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
    bool json = false, strict = false;
};

int colour_of(Severity severity) {
    return severity == Severity::error ? 31 : severity == Severity::warning ? 33 : 36;
}

void print_json(const std::vector<Finding>& findings) {
    nlohmann::ordered_json all = nlohmann::ordered_json::array();
    for (const Finding& finding : findings)
        all.push_back({{"code", to_string(finding.code)},
                       {"severity", to_string(finding.severity)},
                       {"file", finding.file},
                       {"line", finding.line},
                       {"column", finding.column},
                       {"sentence", finding.sentence},
                       {"mend", finding.mend}});
    std::cout << all.dump(2, ' ', false, nlohmann::json::error_handler_t::replace) << '\n';
}

void print(const std::vector<Finding>& findings, const Loaded& loaded) {
    for (const Finding& finding : findings) {
        std::ostringstream line;
        line << finding;
        std::string text = line.str();
        const std::string word = fmt::format(": {}: ", to_string(finding.severity));
        if (const auto at = text.find(word); at != std::string::npos)
            text.replace(at, word.size(),
                         ": " + paint(to_string(finding.severity), colour_of(finding.severity)) + ": ");
        std::cout << text << '\n';
    }
    const auto counted = [&](Severity severity, const char* word) {
        const int n = count(findings, severity);
        return fmt::format("{} {}{}", n, word, n == 1 ? "" : "s");
    };
    std::cout << fmt::format("{}: {}, {}, {}\n", loaded.project.name().empty() ? "project" : loaded.project.name(),
                             counted(Severity::error, "error"), counted(Severity::warning, "warning"),
                             counted(Severity::note, "note"));
}

Status run(Arguments arguments) {
    const auto folder = take_project(arguments.words, 0);
    Loaded loaded = load_project(folder);
    std::vector<Finding> findings = loaded.findings;
    if (loaded.ok()) // else much is idle only because something else was left out
        for (Finding& finding : audit(loaded.project, folder)) findings.push_back(std::move(finding));
    std::stable_sort(findings.begin(), findings.end(),
                     [](const Finding& a, const Finding& b) { return a.line < b.line; });
    if (arguments.json)
        print_json(findings);
    else
        print(findings, loaded);
    const bool fails =
        count(findings, Severity::error) > 0 || (arguments.strict && count(findings, Severity::warning) > 0);
    return fails ? failed : done;
}

} // namespace

void add_check(CLI::App& app, Chosen& chosen) {
    auto arguments = std::make_shared<Arguments>();
    CLI::App& command =
        declare(app, "check", "Find what is wrong or doubtful about a project", "kiai check marble-run --strict");
    command
        .add_option("project", arguments->words, "Folder that holds kiai.toml; default: this one or the nearest above")
        ->expected(0, 1);
    command.add_flag("--json", arguments->json, "Print the findings as JSON");
    command.add_flag("--strict", arguments->strict, "Take warnings for errors");
    command.callback([arguments, &chosen] { chosen = [arguments] { return run(*arguments); }; });
}

} // namespace kiai::tool
