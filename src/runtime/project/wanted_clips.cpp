#include "runtime/project/wanted_clips.h"

#include "core/model/fill.h"
#include "core/model/scope_clips.h"

#include <algorithm>

namespace kiai::runtime {

std::set<std::string> not_asked_for(const reader::Value& root, reader::ClipFiles& named, const LoadOptions& options,
                                    const reader::ReadOptions& wishes, reader::Findings& findings) {
    const LoadResult whole = reader::read_project({findings.file(), named, wishes}, root);
    const model::Project& project = whole.project.data();
    std::set<int> wanted{-1};
    for (const std::string& name : *options.scopes) {
        const auto found = std::find_if(project.scopes.begin(), project.scopes.end(),
                                        [&](const model::Scope& scope) { return scope.name == name; });
        if (found != project.scopes.end())
            wanted.insert(static_cast<int>(found - project.scopes.begin()));
        else
            findings.add(FindingCode::unknown_name, Severity::error, {}, model::fill("unknown scope \"{}\"", name),
                         "use a scope of kiai.toml in LoadOptions::scopes", name);
    }
    std::set<std::string> left_out;
    const auto scopes = model::scopes_of_clips(project);
    for (std::size_t c = 0; c < scopes.size(); ++c) {
        const bool needed = scopes[c].empty() || std::any_of(scopes[c].begin(), scopes[c].end(),
                                                             [&](int scope) { return wanted.contains(scope); });
        if (!needed) left_out.insert(project.clips[c].name);
    }
    return left_out;
}

LoadResult nothing_but(std::vector<Finding> findings) {
    model::Project empty;
    empty.findings = findings;
    return {Project(std::make_shared<const model::Project>(std::move(empty))), std::move(findings)};
}

} // namespace kiai::runtime
