// Renames and removes entries.
#include <kiai/workshop/edit.h>

#include "core/model/near.h"
#include "core/reader/entry.h"
#include "workshop/edit/editing.h"
#include "workshop/edit/references.h"
#include "workshop/edit/renamed_names.h"

#include <fmt/format.h>

#include <algorithm>

namespace kiai::inline v0 {
namespace {

using namespace workshop;

constexpr std::pair<EntryKind, const char*> kinds[] = {
    {EntryKind::clip, "clip"},     {EntryKind::sound, "sound"},      {EntryKind::zone, "zone"},
    {EntryKind::bus, "bus"},       {EntryKind::dial, "dial"},        {EntryKind::scope, "scope"},
    {EntryKind::motion, "motion"}, {EntryKind::sequence, "sequence"}};

const char* section_of(EntryKind kind) {
    for (const auto& [known, name] : kinds)
        if (known == kind) return name;
    return "";
}

const reader::Member* find_entry(const reader::Value& root, EntryKind kind, const std::string& name) {
    const reader::Value* section = root.find(section_of(kind));
    if (!section) return nullptr;
    for (const reader::Member& member : section->members)
        if (member.key == name) return &member;
    return nullptr;
}

/// Returns the kind of the entry, or `any` after a refusal.
EntryKind kind_of(const Document& toml, const std::filesystem::path& folder, const std::string& name, EntryKind wanted,
                  EditResult& edited) {
    std::vector<EntryKind> having;
    std::vector<std::string> all;
    for (const auto& [kind, section] : kinds) {
        if (wanted != EntryKind::any && kind != wanted) continue;
        if (find_entry(toml.root(), kind, name)) having.push_back(kind);
        if (const reader::Value* entries = toml.root().find(section))
            for (const reader::Member& member : entries->members) all.push_back(member.key);
    }
    if (having.size() == 1) return having.front();
    if (having.empty()) {
        const std::string near = model::nearest(name, all);
        refuse(edited, folder, FindingCode::unknown_name, {},
               fmt::format("unknown {} \"{}\"", wanted == EntryKind::any ? "entry" : section_of(wanted), name),
               near.empty() ? "`kiai list` prints all names" : fmt::format("did you mean \"{}\"?", near));
    } else {
        std::string each;
        for (const EntryKind kind : having)
            each += fmt::format("{}a {} in line {}", each.empty() ? "" : ", ", section_of(kind),
                                find_entry(toml.root(), kind, name)->source.line);
        refuse(edited, folder, FindingCode::name_taken, {}, fmt::format("\"{}\" names several entries: {}", name, each),
               fmt::format("name the kind: --kind {}", section_of(having.front())));
    }
    return EntryKind::any;
}

/// Notes which sounds a clip leaves or joins by its new name.
void remark_series(const reader::Value& root, const std::string& clip, const char* what,
                   std::vector<std::string>& remarks) {
    for (const std::string& sound : sounds_by_series(root, clip))
        remarks.push_back(fmt::format("\"{}\" {} the takes of sound \"{}\", which are a series", clip, what, sound));
}

void check_new_name(const Document& toml, const std::filesystem::path& folder, EntryKind kind, const std::string& name,
                    EditResult& edited) {
    if (!reader::good_name(name))
        return refuse(edited, folder, FindingCode::bad_name, {}, fmt::format("\"{}\" cannot name an entry", name),
                      "use a-z, 0-9, - and _, at most 64 of them");
    for (const auto& [other, section] : kinds) {
        const auto played = [](EntryKind one) { return one == EntryKind::clip || one == EntryKind::sound; };
        const bool shares_names = other == kind || (played(other) && played(kind));
        if (const reader::Member* taken = shares_names ? find_entry(toml.root(), other, name) : nullptr)
            return refuse(edited, folder, FindingCode::name_taken, taken->source,
                          fmt::format("{} \"{}\" already exists", section, name),
                          "choose another name, or rename that entry first");
    }
}

std::string file_of(const reader::Value& entry) {
    if (entry.kind == reader::Value::Kind::text) return entry.text;
    const reader::Value* file = entry.find("file");
    return file ? file->text : std::string();
}

} // namespace

EditResult rename_entry(const std::filesystem::path& folder, const std::string& name, const std::string& new_name,
                        const RenameOptions& options) {
    const auto edit = options.dry_run ? try_edit : edit_project;
    EntryKind kind = EntryKind::any;
    EditResult result = edit(folder, [&](Document& toml, EditResult& edited) {
        kind = kind_of(toml, folder, name, options.kind, edited);
        if (edited.ok()) check_new_name(toml, folder, kind, new_name, edited);
        if (!edited.ok()) return;
        for (const Reference& reference : references(toml.root(), kind, name))
            toml.set_text(reference.place, renamed(reference, new_name));
        if (kind == EntryKind::clip) remark_series(toml.root(), name, "leaves", edited.remarks);
        toml.rename({std::string(section_of(kind)), name}, new_name);
        if (kind == EntryKind::clip) remark_series(toml.root(), new_name, "joins", edited.remarks);
        edited.remarks.push_back(
            fmt::format("references to \"{}\" in code and traces were not changed; `kiai check --code FOLDER` finds "
                        "those in code",
                        name));
    });
    if (result.ok() && !options.dry_run) remember_renamed(folder, section_of(kind), name, new_name);
    return result;
}

EditResult remove_entry(const std::filesystem::path& folder, const std::string& name, const RemoveOptions& options) {
    std::string file;
    const auto edit = options.dry_run ? try_edit : edit_project;
    EditResult result = edit(folder, [&](Document& toml, EditResult& edited) {
        const EntryKind kind = kind_of(toml, folder, name, options.kind, edited);
        if (!edited.ok()) return;
        std::vector<Reference> named = references(toml.root(), kind, name);
        for (const Reference& reference : named)
            if (reference.holder.empty())
                refuse(edited, folder, FindingCode::still_used, reference.source,
                       fmt::format("{}, and needs \"{}\"", reference.what, name), "change or remove that first");
        if (!edited.ok()) return;
        std::reverse(named.begin(), named.end()); // so that the places of the others stay
        for (const Reference& reference : named) toml.remove(reference.holder);
        const reader::Value& entry = find_entry(toml.root(), kind, name)->value;
        if (kind == EntryKind::clip) {
            file = file_of(entry);
            for (const reader::Member& member : toml.root().find("clip")->members)
                if (member.key != name && file_of(member.value) == file) file.clear(); // another clip names it
            remark_series(toml.root(), name, "no longer belongs to", edited.remarks);
        }
        toml.remove({std::string(section_of(kind)), name});
    });
    if (!result.ok() || file.empty()) return result;
    std::error_code error;
    if (!options.delete_file)
        result.remarks.push_back(fmt::format("kept the file \"{}\"", file));
    else if (options.dry_run)
        result.remarks.push_back(fmt::format("would delete \"{}\"", file));
    else if (std::filesystem::remove(folder / file, error))
        result.remarks.push_back(fmt::format("deleted \"{}\"", file));
    else
        result.remarks.push_back(fmt::format("could not delete the file \"{}\": {}", file, error.message()));
    return result;
}

} // namespace kiai::inline v0
