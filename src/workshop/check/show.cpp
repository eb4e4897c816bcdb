#include "core/model/near.h"
#include "core/reader/project_reader.h"
#include "runtime/project/read_folder.h"
#include "workshop/check/uses.h"
#include "workshop/facts/facts_cache.h"
#include "workshop/facts/measure.h"

#include <kiai/workshop/catalogue.h>
#include <kiai/workshop/facts.h>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace kiai::inline v0 {
namespace {

namespace fs = std::filesystem;

std::vector<Column> columns_of(const model::Audio& audio, int count) {
    std::vector<Column> columns(static_cast<std::size_t>(std::clamp(count, 1, 10000)));
    for (int channel = 0; channel < audio.channels; ++channel) {
        const std::vector<float> samples = workshop::channel_of(audio, channel);
        const auto stretches = static_cast<std::int64_t>(columns.size());
        for (std::int64_t c = 0; c < stretches; ++c) {
            const std::int64_t from = c * audio.frames / stretches,
                               to = std::max(from + 1, (c + 1) * audio.frames / stretches);
            double peak = 0;
            for (std::int64_t i = from; i < std::min(to, audio.frames); ++i)
                peak = std::max(peak, std::abs(static_cast<double>(samples[static_cast<std::size_t>(i)])));
            Column& column = columns[static_cast<std::size_t>(c)];
            column.peak =
                std::max(column.peak, peak > 0 ? static_cast<Decibels>(20 * std::log10(peak)) : Facts::silent);
        }
    }
    return columns;
}

/// Reads a file again for its waveform, and marks runs at full scale.
void add_columns(const fs::path& file, ClipDetails& clip, int count) {
    const reader::Decoded decoded =
        runtime::decode({file.parent_path(), {}}, file.filename().string(), reader::Stream::no);
    if (!decoded.ok()) return;
    clip.columns = columns_of(*decoded.audio, count);
    for (const Frames frame : workshop::clipped_frames(*decoded.audio)) {
        const auto column =
            static_cast<std::size_t>(frame * static_cast<Frames>(clip.columns.size()) / decoded.audio->frames);
        clip.columns[std::min(column, clip.columns.size() - 1)].clipped = true;
    }
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
