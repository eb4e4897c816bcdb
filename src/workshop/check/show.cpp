#include "core/model/near.h"
#include "core/reader/project_reader.h"
#include "runtime/audio/audio_reader.h"
#include "runtime/project/read_folder.h"
#include "workshop/check/uses.h"
#include "workshop/check/waveform.h"
#include "workshop/facts/facts_cache.h"

#include <kiai/workshop/catalogue.h>
#include <kiai/workshop/facts.h>

#include <fmt/format.h>

namespace kiai::inline v0 {
namespace {

namespace fs = std::filesystem;

/// Reads a file again for its waveform.
void add_columns(const fs::path& file, ClipDetails& clip, int count) {
    const reader::Decoded decoded =
        runtime::decode({file.parent_path(), {}}, file.filename().string(), reader::Stream::no);
    if (decoded.ok()) clip.columns = workshop::waveform_of(*decoded.audio, count);
}

ClipDetails shown_clip(const model::Project& project, int index, const fs::path& folder, int columns) {
    const model::Clip& clip = project.clips[static_cast<std::size_t>(index)];
    ClipDetails shown{clip.name,
                      clip.file,
                      static_cast<Decibels>(clip.gain),
                      clip.credit.author,
                      clip.credit.licence,
                      clip.credit.origin,
                      clip.credit.note,
                      workshop::users_of_clip(project, index),
                      *clip.facts,
                      {}};
    add_columns(folder / clip.file, shown, columns);
    return shown;
}

} // namespace

EntryDetails show_entry(const fs::path& folder, const std::string& name, int columns) {
    workshop::FactsCache cache(folder, false);
    LoadResult read = runtime::read_folder(cache);
    const model::Project& project = read.project.data();
    EntryDetails shown;
    shown.name = name;
    std::vector<std::string> names;
    for (std::size_t s = 0; s < project.sounds.size(); ++s) {
        const model::Sound& sound = project.sounds[s];
        names.push_back(sound.name);
        if (sound.name != name) continue;
        shown.kind = sound.implied ? "clip" : "sound";
        shown.users = workshop::users_of_sound(project, static_cast<int>(s));
        for (const model::Layer& layer : sound.layers)
            for (const int take : layer.takes) shown.clips.push_back(shown_clip(project, take, folder, columns));
        return shown;
    }
    std::error_code error;
    if (fs::is_regular_file(name, error)) {
        FactsOrFinding one = read_facts(name);
        if (!one.facts) {
            shown.findings.push_back(std::move(one.finding));
            return shown;
        }
        shown.kind = "file";
        ClipDetails& clip = shown.clips.emplace_back();
        clip.file = name;
        clip.facts = std::move(*one.facts);
        add_columns(name, clip, columns);
        return shown;
    }
    for (Finding& finding : read.findings)
        if (finding.entry == name || read.project.data().sounds.empty()) shown.findings.push_back(std::move(finding));
    if (!shown.findings.empty()) return shown;
    const std::string near = model::nearest(name, names);
    reader::Findings none((folder / "kiai.toml").string());
    none.add(FindingCode::unknown_name, Severity::error, {}, fmt::format("unknown clip, sound or file \"{}\"", name),
             near.empty() ? "`kiai list` prints all names" : fmt::format("did you mean \"{}\"?", near));
    shown.findings = none.take();
    return shown;
}

} // namespace kiai::inline v0
