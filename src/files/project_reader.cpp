// kiai.toml as a whole: the file, its sections, and what they make together.
#include "files/project_reader.h"

#include "files/content_hash.h"
#include "model/near.h"
#include "model/scope_clips.h"

#include <kiai/project.h>

#include <fmt/format.h>

#include <algorithm>
#include <fstream>
#include <sstream>

namespace kiai {
namespace files {

std::optional<int> look_up(Entry& entry, const Value& name, const std::map<std::string, int>& known,
                           const std::string& kind) {
    if (name.kind != Value::Kind::text) {
        entry.fail(FindingCode::wrong_type, name.source,
                   fmt::format("a {}'s name is a text, not {}", kind, kind_name(name.kind)), "put the name in quotes");
        return std::nullopt;
    }
    const auto found = known.find(name.text);
    if (found != known.end()) return found->second >= 0 ? std::optional(found->second) : std::nullopt;
    std::vector<std::string> names;
    for (const auto& [key, index] : known) names.push_back(key);
    const std::string near = model::nearest(name.text, names);
    entry.fail(FindingCode::unknown_name, name.source, fmt::format("there is no {} \"{}\"", kind, name.text),
               near.empty() ? fmt::format("add it, or name one that is there (`kiai list` shows all)")
                            : fmt::format("did you mean \"{}\"? Names are compared exactly", near),
               model::same_but_for_case(name.text, near) ? near : std::string());
    return std::nullopt;
}

bool check_name(Draft& draft, const Member& member, const std::string& kind) {
    if (good_name(member.key)) return true;
    draft.findings.add(FindingCode::bad_name, Severity::error, member.source,
                       fmt::format("{} \"{}\": the name cannot be used", kind, member.key),
                       "use a-z, 0-9, - and _, at most 64 of them");
    return false;
}

bool is_table(Draft& draft, const Member& member, const std::string& kind) {
    if (member.value.kind == Value::Kind::table) return true;
    draft.findings.add(
        FindingCode::wrong_type, Severity::error, member.source,
        fmt::format("{} \"{}\" is {}, where a table is wanted", kind, member.key, kind_name(member.value.kind)),
        fmt::format("write it as [{}.{}] with its keys below", kind, member.key));
    return false;
}

namespace {

namespace fs = std::filesystem;

constexpr std::uintmax_t most_bytes = 16u << 20;

/// Every clip that no sound of the same name hides can be played by its own name.
void imply_sounds(Draft& draft) {
    for (const auto& [name, clip] : draft.clips) {
        if (draft.sounds.contains(name)) continue;
        model::Sound sound;
        sound.name = name;
        sound.implied = true;
        sound.pending = clip < 0 && draft.pending.contains(name);
        if (clip < 0 && !sound.pending) {
            draft.sounds[name] = -1;
            continue;
        }
        if (clip >= 0) {
            sound.source = draft.project.clips[static_cast<std::size_t>(clip)].source;
            sound.layers.emplace_back().takes = {clip};
            sound.layers.back().weights = {1};
        }
        draft.sounds[name] = static_cast<int>(draft.project.sounds.size());
        draft.project.sounds.push_back(std::move(sound));
    }
}

void read_root(Draft& draft, const Value& root) {
    Entry entry(draft.findings, root, {"project"}, "kiai.toml");
    if (const auto format = entry.whole("format"); format && *format != 1)
        entry.fail(FindingCode::unknown_format, root.find("format")->source,
                   fmt::format("`format = {}` is not known", *format),
                   "this version reads format 1: write format = 1, or use a newer version of Kiai");
    else if (!root.find("format"))
        draft.findings.add(FindingCode::missing_key, Severity::warning, {1, 1}, "kiai.toml: `format` is not there",
                           "write format = 1 in its first line");
    draft.project.name = entry.text("name").value_or("");

    const Value empty;
    const auto section = [&](const char* key) -> const Value& {
        const Value* table = entry.table(key);
        return table ? *table : empty;
    };
    const Value &credits = section("credit"), &clips = section("clip"), &sounds = section("sound"),
                &buses = section("bus"), &dials = section("dial"), &zones = section("zone"), &scopes = section("scope"),
                &motions = section("motion"), &sequences = section("sequence");
    const Value *bindings = entry.list("binding"), *accepted = entry.list("accepted");
    entry.finish();
    read_clips(draft, clips);
    read_credits(draft, credits);
    read_buses(draft, buses);
    read_dials(draft, dials);
    read_sounds(draft, sounds);
    imply_sounds(draft);
    read_scopes(draft, scopes);
    read_zones(draft, zones);
    read_motions(draft, motions);
    read_sequences(draft, sequences);
    if (bindings) read_bindings(draft, *bindings);
    if (accepted) read_accepted(draft, *accepted);
}

/// The clips that none of the scopes needs that were asked for, but others do.
std::set<std::string> not_asked_for(const fs::path& folder, const FileAccess& access, const LoadOptions& options,
                                    Findings& findings) {
    NamedFiles named(access);
    LoadOptions all = options;
    all.scopes.reset();
    const Loaded whole = read_project(folder, named, all);
    const model::Project& project = whole.project.data();
    std::set<int> wanted{-1};
    for (const std::string& name : *options.scopes) {
        const auto found = std::find_if(project.scopes.begin(), project.scopes.end(),
                                        [&](const model::Scope& scope) { return scope.name == name; });
        if (found != project.scopes.end())
            wanted.insert(static_cast<int>(found - project.scopes.begin()));
        else
            findings.add(FindingCode::unknown_name, Severity::error, {},
                         fmt::format("there is no scope \"{}\" to be loaded", name),
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

void mark_unready(const model::Project& project, model::Sound& sound) {
    const auto left_out = [&](int take) { return project.clips[static_cast<std::size_t>(take)].left_out; };
    sound.unready = std::any_of(sound.layers.begin(), sound.layers.end(), [&](const model::Layer& layer) {
        return std::any_of(layer.takes.begin(), layer.takes.end(), left_out);
    });
    if (sound.unready) sound.layers.clear();
}

/// A project without anything in it, which knows why.
Loaded nothing_but(std::vector<Finding> findings) {
    model::Project empty;
    empty.findings = findings;
    return {Project(std::make_shared<const model::Project>(std::move(empty))), std::move(findings)};
}

std::string mark_of(const std::string& text, const model::Project& project) {
    std::string told = text;
    for (const model::Clip& clip : project.clips) told += fmt::format(" {} {}", clip.frames(), clip.rate());
    return fmt::format("{:016x}", content_hash_of(told));
}

} // namespace

ProjectText read_text(const fs::path& folder) {
    return read_text(folder, FileAccess(folder, {}));
}

ProjectText read_text(const fs::path& folder, const FileAccess& access) {
    const fs::path path = folder / "kiai.toml";
    const auto fail = [&](FindingCode code, model::Source source, std::string sentence, std::string mend) {
        Findings findings(path.string());
        findings.add(code, Severity::error, source, std::move(sentence), std::move(mend));
        return ProjectText{{}, findings.take()};
    };
    std::error_code error;
    if (!access.exists("kiai.toml"))
        return fail(FindingCode::no_project, {},
                    access.own()                      ? "the app's reader gives no kiai.toml"
                    : fs::is_directory(folder, error) ? "there is no kiai.toml in this folder"
                                                      : "there is no such folder",
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

Loaded read_project(const fs::path& folder, ClipFiles& clip_files, const LoadOptions& options) {
    ProjectText read = read_text(folder, clip_files.access());
    if (!read.findings.empty()) return nothing_but(std::move(read.findings));
    Draft draft(folder, clip_files, options);
    if (options.scopes) draft.left_out = not_asked_for(folder, clip_files.access(), options, draft.findings);
    const auto parsed = parse_toml(read.text);
    if (const auto* syntax = std::get_if<SyntaxError>(&parsed)) {
        draft.findings.add(FindingCode::toml_syntax, Severity::error, syntax->source, syntax->sentence,
                           toml_mend(read.text, *syntax));
        return nothing_but(draft.findings.take());
    }
    read_root(draft, std::get<Value>(parsed));
    std::vector<Finding> findings = draft.findings.take();
    std::stable_sort(findings.begin(), findings.end(),
                     [](const Finding& a, const Finding& b) { return a.line < b.line; });
    accept(findings, draft.project.accepted);
    for (model::Sound& sound : draft.project.sounds) mark_unready(draft.project, sound);
    draft.project.mark = mark_of(read.text, draft.project);
    draft.project.file = (folder / "kiai.toml").string();
    draft.project.findings = findings;
    return {Project(std::make_shared<const model::Project>(std::move(draft.project))), std::move(findings)};
}

} // namespace files

inline namespace v0 {

Loaded load_project(const std::filesystem::path& folder, const LoadOptions& options) {
    files::DecodedFiles decoded({folder, options.open}, options.like, options.progress, options.cancel);
    return files::read_project(folder, decoded, options);
}

} // namespace v0
} // namespace kiai
