#include <kiai/workshop/audible.h>

#include "core/model/near.h"
#include "core/reader/project_reader.h"
#include "runtime/project/folder_clips.h"
#include "workshop/edit/expand.h"

#include <kiai/workshop/add.h>

#include <fmt/format.h>

#include <algorithm>

#include <fnmatch.h>

namespace kiai::inline v0 {
namespace {

namespace fs = std::filesystem;
using reader::Value;

Value text_value(const std::string& text) {
    Value value;
    value.kind = Value::Kind::text;
    value.text = text;
    return value;
}

Value truth_value() {
    Value value;
    value.kind = Value::Kind::truth;
    value.truth = true;
    return value;
}

/// Returns all names that can be played, sounds first, each once.
std::vector<std::string> playable(const Project& project) {
    std::vector<std::string> names;
    for (const auto& list : {project.sounds(), project.clips()})
        for (const auto& name : list)
            if (std::find(names.begin(), names.end(), name) == names.end()) names.emplace_back(name);
    return names;
}

std::string name_of(const fs::path& file) {
    const std::string name = clip_name(file), folder = clip_name(file.parent_path().filename() += ".x");
    const bool number = name.find_first_not_of("0123456789") == std::string::npos;
    if (number && !folder.empty()) return name.empty() ? folder : folder + "-" + name;
    return name.empty() ? "clip" : name;
}

} // namespace

Audibles find_audible(const Project& project, const std::vector<std::string>& words) {
    Audibles found;
    const std::vector<std::string> names = playable(project);
    for (const std::string& word : words) {
        const std::size_t before = found.all.size();
        for (const std::string& name : names)
            if (name == word || fnmatch(word.c_str(), name.c_str(), 0) == 0) found.all.push_back({name, {}});
        if (found.all.size() > before) continue;
        reader::Findings findings(word);
        std::error_code error;
        const bool pattern = word.find_first_of("*?") != std::string::npos;
        if (!pattern && !fs::exists(word, error)) {
            found.all.push_back({word, {}}); // `hear` says why the name cannot be played
            continue;
        }
        const std::vector<workshop::Wanted> files = workshop::expand({word}).files;
        const bool none = std::none_of(files.begin(), files.end(), [](const auto& file) { return file.why.empty(); });
        if (pattern && none) {
            const std::string near = model::nearest(word, names);
            findings.add(FindingCode::unknown_name, Severity::error, {},
                         fmt::format("no sound, clip or file matches \"{}\"", word),
                         near.empty() ? "`kiai list` prints the names of a project"
                                      : fmt::format("did you mean \"{}\"?", near));
        } else {
            for (const workshop::Wanted& file : files) {
                if (file.why.empty())
                    found.all.push_back({name_of(file.file), file.file});
                else
                    findings.add(FindingCode::file_missing, Severity::error, {}, file.why, file.fix);
            }
        }
        for (Finding& finding : findings.take()) found.findings.push_back(std::move(finding));
        if (found.all.size() == before && found.findings.empty()) {
            findings.add(FindingCode::file_missing, Severity::error, {}, "no audio file in this folder",
                         "name a folder with audio files, or a file");
            found.findings.push_back(findings.take().front());
        }
    }
    return found;
}

LoadResult load_files(const std::vector<Audible>& named) {
    Value clips;
    for (const Audible& one : named) {
        std::error_code error;
        Value clip;
        clip.members.push_back({"file", {}, text_value(fs::absolute(one.file, error).string())});
        clip.members.push_back({"outside", {}, truth_value()});
        clips.members.push_back({one.name, {}, clip});
    }
    Value format;
    format.kind = Value::Kind::number;
    format.number = 1;
    Value root;
    root.members.push_back({"format", {}, format});
    root.members.push_back({"clip", {}, clips});
    const LoadOptions options;
    runtime::DecodedFiles files(".", options);
    const reader::ReadOptions with;
    LoadResult loaded =
        reader::read_project({named.empty() ? std::string() : named.front().file.string(), files, with}, root);
    std::erase_if(loaded.findings, [](const Finding& one) { return one.code == FindingCode::file_outside; });
    return loaded;
}

} // namespace kiai::inline v0
