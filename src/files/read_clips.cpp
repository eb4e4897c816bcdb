// [clip]: name = "file", or a table.
#include "files/audio_reader.h"
#include "files/project_reader.h"
#include "model/near.h"

#include <fmt/format.h>

#include <algorithm>

namespace kiai::files {
namespace {

namespace fs = std::filesystem;

/// True where the path, links followed, stays below the folder.
bool stays_inside(const fs::path& folder, const fs::path& file) {
    std::error_code error;
    if (file.is_absolute()) return false;
    const fs::path root = fs::weakly_canonical(folder, error);
    const fs::path full = fs::weakly_canonical(folder / file, error);
    const fs::path relative = full.lexically_relative(root);
    return !error && !relative.empty() && *relative.begin() != "..";
}

/// What lies in the folder where the file was to be.
std::vector<std::string> neighbours(const fs::path& path) {
    std::vector<std::string> names;
    std::error_code error;
    for (fs::directory_iterator at(path.parent_path(), error), end; !error && at != end && names.size() < 10000;
         at.increment(error))
        if (at->is_regular_file(error)) names.push_back(at->path().filename().string());
    std::sort(names.begin(), names.end());
    return names;
}

std::string same_but_for(const std::string& wanted, const std::string& near) {
    const auto lower = [](std::string text) {
        for (char& c : text) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        return text;
    };
    if (lower(wanted) == lower(near)) return " (it differs in case only)";
    if (fs::path(wanted).stem() == fs::path(near).stem()) return " (it differs in its extension only)";
    return "";
}

void missing(Entry& entry, model::Source source, const fs::path& folder, const std::string& file) {
    const fs::path path = folder / file;
    const std::string wanted = path.filename().string(), near = model::nearest(wanted, neighbours(path));
    entry.fail(FindingCode::file_missing, source, fmt::format("the file \"{}\" is not there", file),
               near.empty()
                   ? "put the file there, or correct the path"
                   : fmt::format("did you mean \"{}\"{}?", (fs::path(file).parent_path() / near).generic_string(),
                                 same_but_for(wanted, near)));
}

void read_clip(Draft& draft, const Member& member) {
    const Value& value = member.value;
    model::Clip clip;
    clip.name = member.key;
    clip.source = member.source;
    Value alone; // a bare text says the same as a table with just `file`
    if (value.kind == Value::Kind::text) {
        alone.source = value.source;
        alone.members.push_back({"file", value.source, value});
    } else if (value.kind != Value::Kind::table) {
        draft.findings.add(FindingCode::wrong_type, Severity::error, value.source,
                           fmt::format("clip \"{}\" is {}, where a file is wanted", member.key, kind_name(value.kind)),
                           "write the file's path in quotes");
        return;
    }
    const Value& table = value.kind == Value::Kind::text ? alone : value;
    Entry entry(draft.findings, table, fmt::format("clip \"{}\"", member.key));
    clip.file = entry.text("file").value_or("");
    clip.gain = entry.number("gain", -120, 24, "dB").value_or(0);
    clip.author = entry.text("author").value_or("");
    clip.licence = entry.text("licence").value_or("");
    clip.origin = entry.text("source").value_or("");
    entry.finish();
    const Value* file = table.find("file");
    if (!file)
        entry.fail(FindingCode::missing_key, member.source, "`file` is not there",
                   "name the audio file: file = \"clips/…\"");
    if (!entry.ok()) return;

    std::error_code error;
    if (!stays_inside(draft.folder, clip.file))
        return entry.fail(FindingCode::file_outside, file->source,
                          fmt::format("the path \"{}\" leaves the project's folder", clip.file),
                          "copy the file into the project and name it from there");
    if (!fs::is_regular_file(draft.folder / clip.file, error))
        return missing(entry, file->source, draft.folder, clip.file);
    Decoded decoded = decode(draft.folder / clip.file);
    if (!decoded.audio)
        return entry.fail(decoded.code, file->source, fmt::format("\"{}\" {}", clip.file, decoded.sentence),
                          decoded.mend);
    clip.audio = std::move(decoded.audio);
    draft.clips[member.key] = static_cast<int>(draft.project.clips.size());
    draft.project.clips.push_back(std::move(clip));
}

} // namespace

void read_clips(Draft& draft, const Value& section) {
    for (const Member& member : section.members) {
        if (!check_name(draft, member, "clip")) continue;
        draft.clips[member.key] = -1;
        read_clip(draft, member);
    }
}

} // namespace kiai::files
