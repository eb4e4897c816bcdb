// All findings about a project at once.
#include "core/reader/project_reader.h"
#include "runtime/project/read_folder.h"
#include "workshop/check/findings.h"
#include "workshop/facts/facts_cache.h"

#include <kiai/workshop/check.h>

#include <fmt/format.h>

#include <algorithm>

namespace kiai::inline v0 {
namespace {

/// Reports acceptances without a finding.
void doubt_acceptances(const model::Project& project, const std::vector<Finding>& found, reader::Findings& findings) {
    const auto& codes = all_finding_codes();
    for (const model::Acceptance& acceptance : project.accepted) {
        if (std::any_of(codes.begin(), codes.end(),
                        [&](FindingCode code) { return found_running(code) && acceptance.code == to_string(code); }))
            continue; // whether it is found is not seen here
        const bool used = std::any_of(found.begin(), found.end(), [&](const Finding& finding) {
            return acceptance.code == to_string(finding.code) &&
                   (acceptance.on.empty() || acceptance.on == finding.entry);
        });
        if (!used)
            findings.add(FindingCode::unused_acceptance, acceptance.source,
                         fmt::format("{}{} is accepted, but no longer found", acceptance.code,
                                     acceptance.on.empty() ? "" : fmt::format(" of \"{}\"", acceptance.on)),
                         "remove this entry", acceptance.on);
    }
}

} // namespace

CheckResult check_project(const std::filesystem::path& folder, const CheckOptions& options) {
    workshop::FactsCache cache(folder, options.verify, options.progress);
    const LoadResult read = runtime::read_folder(cache, {.outside = options.outside});
    if (cache.kept() || options.keep_facts) cache.save();
    const model::Project& project = read.project.data();
    CheckResult checked{project.name, read.findings};
    reader::Findings doubts((folder / "kiai.toml").string());
    workshop::doubt_content(project, doubts);
    workshop::doubt_credits(project, doubts);
    workshop::doubt_zones(project, doubts);
    if (read.ok()) { // else much is idle only because something else was left out
        workshop::doubt_uses(project, doubts);
        workshop::doubt_bindings(project, doubts);
        workshop::doubt_effects(project, doubts);
        workshop::doubt_files(project, folder, doubts);
    }
    for (Finding& doubt : doubts.take()) checked.findings.push_back(std::move(doubt));
    reader::accept(checked.findings, project.accepted);
    if (read.ok()) {
        reader::Findings idle((folder / "kiai.toml").string());
        doubt_acceptances(project, checked.findings, idle);
        for (Finding& doubt : idle.take()) checked.findings.push_back(std::move(doubt));
    }
    // Findings without a line come last.
    std::stable_sort(checked.findings.begin(), checked.findings.end(), [](const Finding& a, const Finding& b) {
        return (a.line == 0 ? 1 << 30 : a.line) < (b.line == 0 ? 1 << 30 : b.line);
    });
    return checked;
}

} // namespace kiai::inline v0
