// Reads [clip]: name = "file", or a table.
#include "core/model/fill.h"
#include "core/model/near.h"
#include "core/reader/project_reader.h"

#include <algorithm>
#include <list>
#include <map>
#include <set>

namespace kiai::reader {
namespace {

/// A clip as in kiai.toml, before its file is read.
struct ClipEntry {
    Entry entry;
    const Value* file;
    model::Clip clip;
    Stream stream = Stream::when_long;
};

void missing(Draft& draft, ClipEntry& told, const std::set<std::string>& named) {
    const std::string& file = told.clip.file;
    ClipFiles::Meant meant = draft.clip_files.meant(file, named);
    told.entry.fail(FindingCode::file_missing, told.file->source, model::fill("missing file \"{}\"", file),
                    std::move(meant.fix), std::move(meant.replacement));
}

/// Reads the keys of a clip. `alone` stores the table that a plain text stands for.
void read_keys(Draft& draft, const Member& member, std::vector<ClipEntry>& all, std::list<Value>& alone) {
    const Value* table = &member.value;
    if (table->kind == Value::Kind::text) {
        Value& made = alone.emplace_back();
        made.source = table->source;
        made.members.push_back({"file", table->source, *table});
        table = &made;
    } else if (table->kind != Value::Kind::table) {
        draft.findings.add(FindingCode::wrong_type, Severity::error, table->source,
                           model::fill("clip \"{}\" is {}, but must be a file", member.key, kind_name(table->kind)),
                           "write the file's path in quotes", member.key);
        return;
    }
    ClipEntry told{Entry(draft.findings, *table, {"clip"}, model::fill("clip \"{}\"", member.key), member.key),
                   table->find("file"),
                   {}};
    Entry& entry = told.entry;
    told.clip.name = member.key;
    told.clip.source = member.source;
    told.clip.file = entry.text("file").value_or("");
    told.clip.gain = entry.number("gain").value_or(0);
    told.clip.credit = read_credit(entry);
    const bool outside = entry.truth("outside").value_or(false), pending = entry.truth("pending").value_or(false);
    const bool from_app = entry.truth("from-app").value_or(false);
    if (const auto stream = entry.truth("stream")) told.stream = *stream ? Stream::yes : Stream::no;
    told.clip.own_rate = entry.word("rate").value_or(0) == 1;
    if (const auto packed = entry.word("pack")) told.clip.packed = static_cast<model::Packed>(*packed);
    if (from_app && told.file)
        entry.fail(FindingCode::bad_value, told.file->source, "both `file` and `from-app` are given",
                   "remove one of them");
    entry.finish();
    if (from_app) {
        if (entry.ok()) take_samples(draft, entry, std::move(told.clip));
        return;
    }
    if (!told.file && pending) {
        if (!entry.ok()) return;
        draft.project.pending.push_back({"clip", member.key, member.source});
        draft.pending.insert(member.key);
        if (draft.options.placeholder) take_placeholder(draft, std::move(told.clip));
        return;
    }
    if (!told.file)
        entry.fail(FindingCode::missing_key, member.source, "missing key `file`",
                   "name the audio file: file = \"clips/…\"");
    if (entry.ok() && !draft.clip_files.stays_inside(told.clip.file)) {
        const std::string leaves = model::fill("the path \"{}\" is outside of the project's folder", told.clip.file);
        if (outside && draft.options.outside)
            entry.doubt(FindingCode::file_outside, Severity::warning, told.file->source, leaves,
                        "copy the file into the project, because other machines do not have it");
        else
            entry.fail(FindingCode::file_outside, told.file->source, leaves,
                       outside ? "copy the file into the project; files outside are not allowed here"
                               : "copy the file into the project, or write outside = true");
    }
    if (entry.ok()) all.push_back(std::move(told));
}

void take(Draft& draft, ClipEntry& told, Decoded decoded) {
    const model::Source place = told.file->source;
    const auto quoted = [&](const std::string& message) { return model::fill("\"{}\" {}", told.clip.file, message); };
    if (!decoded.ok()) return told.entry.fail(decoded.code, place, quoted(decoded.message), decoded.fix);
    if (const std::string cut = cut_short(decoded.facts); !cut.empty())
        told.entry.doubt(FindingCode::file_cut_short, Severity::warning, place, quoted(cut),
                         "copy or export the file again");
    if (decoded.facts.channels > 2)
        told.entry.doubt(FindingCode::file_folded, Severity::note, place,
                         quoted(model::fill("has {} channels, which are mixed to stereo", decoded.facts.channels)),
                         "export the file in stereo for another balance");
    told.clip.streams = is_streamed(told.stream, decoded.facts.frames, decoded.facts.rate);
    told.clip.audio = std::move(decoded.audio);
    told.clip.stamp = std::move(decoded.stamp);
    if (!told.clip.audio) told.clip.facts = std::make_shared<const Facts>(std::move(decoded.facts));
    draft.clips[told.clip.name] = static_cast<int>(draft.project.clips.size());
    draft.project.clips.push_back(std::move(told.clip));
}

} // namespace

void read_clips(Draft& draft, const Value& section) {
    std::vector<ClipEntry> all;
    std::list<Value> alone;
    for (const Member& member : section.members) {
        if (!check_name(draft, member, "clip")) continue;
        draft.clips[member.key] = -1;
        read_keys(draft, member, all, alone);
    }
    std::vector<AskedFile> files;
    std::vector<ClipEntry*> there;
    std::set<std::string> named;
    for (const ClipEntry& told : all) named.insert(told.clip.file);
    for (ClipEntry& told : all) {
        if (draft.left_out.contains(told.clip.name)) {
            told.clip.left_out = true;
            told.clip.facts = std::make_shared<const Facts>();
            draft.clips[told.clip.name] = static_cast<int>(draft.project.clips.size());
            draft.project.clips.push_back(std::move(told.clip));
            continue;
        }
        if (!draft.clip_files.exists(told.clip.file)) {
            missing(draft, told, named);
            continue;
        }
        files.push_back({told.clip.file, told.stream});
        there.push_back(&told);
    }
    std::vector<Decoded> decoded = draft.clip_files.read(files);
    for (std::size_t i = 0; i < there.size(); ++i) take(draft, *there[i], std::move(decoded[i]));
    for (const Member& member : section.members) // what is missing is not unknown
        if (const auto clip = draft.clips.find(member.key);
            clip != draft.clips.end() && clip->second < 0 && !draft.pending.contains(member.key))
            draft.project.left_out.push_back({member.key, {member.key}, member.source});
}

} // namespace kiai::reader
