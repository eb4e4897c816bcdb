// Reads kiai.toml as a whole: the file, its sections, and how they refer to each other.
#include "core/reader/project_reader.h"
#include "core/model/fill.h"

#include "core/model/chance.h"
#include "core/model/near.h"
#include "core/model/sort_records.h"

#include <algorithm>

namespace kiai::reader {

std::optional<int> look_up(Entry& entry, const Value& name, const std::map<std::string, int>& known,
                           const std::string& kind) {
    if (name.kind != Value::Kind::text) {
        entry.fail(FindingCode::wrong_type, name.source,
                   model::fill("a {}'s name is a text, not {}", kind, kind_name(name.kind)), "put the name in quotes");
        return std::nullopt;
    }
    const auto found = known.find(name.text);
    if (found != known.end()) return found->second >= 0 ? std::optional(found->second) : std::nullopt;
    std::vector<std::string> names;
    for (const auto& [key, index] : known) names.push_back(key);
    const std::string near = model::nearest(name.text, names);
    entry.fail(FindingCode::unknown_name, name.source, model::fill("unknown {} \"{}\"", kind, name.text),
               near.empty() ? model::fill("add it, or use a known name (`kiai list` prints all)")
                            : model::fill("did you mean \"{}\"? Names are compared exactly", near),
               model::same_but_for_case(name.text, near) ? near : std::string());
    return std::nullopt;
}

bool check_name(Draft& draft, const Member& member, const std::string& kind) {
    if (good_name(member.key)) return true;
    draft.findings.add(FindingCode::bad_name, Severity::error, member.source,
                       model::fill("{} \"{}\": invalid name", kind, member.key),
                       "use a-z, 0-9, - and _, at most 64 of them");
    return false;
}

bool is_table(Draft& draft, const Member& member, const std::string& kind) {
    if (member.value.kind == Value::Kind::table) return true;
    draft.findings.add(
        FindingCode::wrong_type, Severity::error, member.source,
        model::fill("{} \"{}\" is {}, but must be a table", kind, member.key, kind_name(member.value.kind)),
        model::fill("write it as [{}.{}] with its keys below", kind, member.key));
    return false;
}

namespace {

/// Makes every clip playable by its own name, unless a sound has the same name.
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
                   model::fill("`format = {}` is not supported", *format),
                   "write format = 1, or use a newer version of Kiai");
    else if (!root.find("format"))
        draft.findings.add(FindingCode::missing_key, Severity::warning, {1, 1}, "kiai.toml: missing key `format`",
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
    read_dials(draft, dials);
    read_buses(draft, buses); // which may follow dials
    read_sounds(draft, sounds);
    imply_sounds(draft);
    read_scopes(draft, scopes);
    read_zones(draft, zones);
    read_motions(draft, motions);
    read_sequences(draft, sequences);
    if (bindings) read_bindings(draft, *bindings);
    read_zone_bindings(draft, zones);
    if (accepted) read_accepted(draft, *accepted);
}

void mark_unready(const model::Project& project, model::Sound& sound) {
    const auto left_out = [&](int take) { return project.clips[static_cast<std::size_t>(take)].left_out; };
    sound.unready = std::any_of(sound.layers.begin(), sound.layers.end(), [&](const model::Layer& layer) {
        return std::any_of(layer.takes.begin(), layer.takes.end(), left_out);
    });
    if (sound.unready) sound.layers.clear();
}

std::string fingerprint_of(const Value& root, const model::Project& project) {
    std::uint64_t sum = hash(root);
    for (const model::Clip& clip : project.clips)
        sum = model::scatter(sum ^ model::scatter(static_cast<std::uint64_t>(clip.frames())) ^
                             static_cast<std::uint64_t>(clip.rate()));
    return model::hexadecimal(sum);
}

} // namespace

LoadResult read_project(Draft draft, const Value& root) {
    read_root(draft, root);
    model::Project& project = draft.project;
    std::vector<Finding> findings = draft.findings.take();
    model::sort_records(findings, [](const Finding& a, const Finding& b) { return a.line < b.line; });
    accept(findings, project.accepted);
    for (model::Sound& sound : project.sounds) mark_unready(project, sound);
    project.fingerprint = draft.fingerprint.empty() ? fingerprint_of(root, project) : std::move(draft.fingerprint);
    project.findings = findings;
    return {Project(std::make_shared<const model::Project>(std::move(project))), std::move(findings)};
}

} // namespace kiai::reader
