#include "runtime/project/read_folder.h"

#include "core/model/fill.h"
#include "core/model/scope_clips.h"
#include "core/reader/project_reader.h"
#include "runtime/project/parse_toml.h"

#include <algorithm>
#include <fstream>
#include <istream>
#include <set>

namespace kiai {
namespace runtime {

namespace fs = std::filesystem;

namespace {

constexpr std::uintmax_t most_bytes = 16u << 20;

/// The clips that none of the scopes needs that were asked for, but others do.
std::set<std::string> not_asked_for(const reader::Value& root, const FolderClips& clips, const LoadOptions& options,
                                    const reader::ReadOptions& wishes, reader::Findings& findings) {
    NamedFiles named(clips.folder(), options.open);
    const LoadResult whole = reader::read_project({findings.file(), named, wishes}, root);
    const model::Project& project = whole.project.data();
    std::set<int> wanted{-1};
    for (const std::string& name : *options.scopes) {
        const auto found = std::find_if(project.scopes.begin(), project.scopes.end(),
                                        [&](const model::Scope& scope) { return scope.name == name; });
        if (found != project.scopes.end())
            wanted.insert(static_cast<int>(found - project.scopes.begin()));
        else
            findings.add(FindingCode::unknown_name, Severity::error, {},
                         model::fill("there is no scope \"{}\" to be loaded", name),
                         "name one that is in kiai.toml in LoadOptions::scopes", name);
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

/// A project without anything in it, which knows why.
LoadResult nothing_but(std::vector<Finding> findings) {
    model::Project empty;
    empty.findings = findings;
    return {Project(std::make_shared<const model::Project>(std::move(empty))), std::move(findings)};
}

} // namespace

ProjectText read_text(const fs::path& folder) {
    return read_text(folder, FileAccess(folder, {}));
}

ProjectText read_text(const fs::path& folder, const FileAccess& access) {
    const fs::path path = folder / "kiai.toml";
    const auto fail = [&](FindingCode code, model::Source source, std::string message, std::string fix) {
        reader::Findings findings(path.string());
        findings.add(code, Severity::error, source, std::move(message), std::move(fix));
        return ProjectText{{}, findings.take()};
    };
    std::error_code error;
    if (!access.exists("kiai.toml"))
        return fail(FindingCode::no_project, {},
                    access.own() ? std::string("the app's reader gives no kiai.toml")
                    : fs::is_directory(folder, error)
                        ? std::string("there is no kiai.toml in this folder")
                        : model::fill("there is no folder \"{}\"", absolute(folder).string()),
                    "give the folder that holds the project's kiai.toml");
    const auto stream = access.stream("kiai.toml");
    std::string text(most_bytes + 1, '\0');
    if (stream) stream->read(text.data(), static_cast<std::streamsize>(text.size()));
    if (!stream || stream->bad())
        return fail(FindingCode::no_project, {}, "kiai.toml cannot be read", "check the file's permissions");
    text.resize(static_cast<std::size_t>(stream->gcount()));
    if (text.size() > most_bytes)
        return fail(FindingCode::no_project, {}, "kiai.toml is larger than 16 MiB",
                    "this is not a project file, or it should be several projects");
    return {std::move(text), {}};
}

LoadResult read_folder(FolderClips& clips, const LoadOptions& options) {
    ProjectText read = read_text(clips.folder(), clips.access());
    if (!read.findings.empty()) return nothing_but(std::move(read.findings));
    const reader::ReadOptions wishes{options.outside, options.placeholder, &options.samples};
    reader::Draft draft((clips.folder() / "kiai.toml").string(), clips, wishes);
    const auto parsed = parse_toml(read.text);
    if (const auto* syntax = std::get_if<SyntaxError>(&parsed)) {
        draft.findings.add(FindingCode::toml_syntax, Severity::error, syntax->source, syntax->message,
                           toml_fix(read.text, *syntax));
        return nothing_but(draft.findings.take());
    }
    const auto& root = std::get<reader::Value>(parsed);
    if (options.scopes) draft.left_out = not_asked_for(root, clips, options, wishes, draft.findings);
    return reader::read_project(std::move(draft), root);
}

} // namespace runtime

inline namespace v0 {

LoadResult load_project(const std::filesystem::path& folder, const LoadOptions& options) {
    runtime::DecodedFiles decoded(folder, options);
    return runtime::read_folder(decoded, options);
}

} // namespace v0
} // namespace kiai
