// Converts clips: chooses them, writes their files, and edits kiai.toml.
#include <kiai/workshop/convert.h>

#include "core/model/near.h"
#include "core/model/project.h"
#include "runtime/audio/audio_reader.h"
#include "workshop/convert/new_file.h"
#include "workshop/disk/atomic_write.h"
#include "workshop/edit/editing.h"
#include "workshop/facts/measure.h"

#include <fmt/format.h>

#include <algorithm>
#include <fstream>
#include <functional>
#include <map>
#include <set>

#include <fnmatch.h>

namespace kiai::inline v0 {
namespace {

namespace fs = std::filesystem;
using namespace workshop;

constexpr const char* originals = "originals";

/// Returns the format of a file, or WAV if Kiai cannot write it.
AudioFormat format_of(const Facts& facts) {
    if (facts.coding.find("Opus") != std::string::npos) return AudioFormat::opus;
    if (facts.format.find("Ogg") != std::string::npos) return AudioFormat::ogg;
    if (facts.format.find("FLAC") != std::string::npos) return AudioFormat::flac;
    if (facts.format.find("MP") != std::string::npos || facts.coding.find("Layer III") != std::string::npos)
        return AudioFormat::mp3;
    return AudioFormat::wav;
}

const char* extension_of(AudioFormat format) {
    switch (format) {
    case AudioFormat::flac:
        return ".flac";
    case AudioFormat::ogg:
        return ".ogg";
    case AudioFormat::opus:
        return ".opus";
    case AudioFormat::mp3:
        return ".mp3";
    default:
        return ".wav";
    }
}

std::string bytes_of(const fs::path& file) {
    std::ifstream stream(file, std::ios::binary);
    return {std::istreambuf_iterator<char>(stream), {}};
}

/// Returns the indices of the clips that the names mean, or refuses the edit.
std::set<std::size_t> chosen(const model::Project& project, const fs::path& folder,
                             const std::vector<std::string>& names, EditResult& edited) {
    std::set<std::size_t> clips;
    std::vector<std::string> known;
    for (const model::Clip& clip : project.clips) known.push_back(clip.name);
    for (const model::Sound& sound : project.sounds) known.push_back(sound.name);
    for (const std::string& name : names) {
        const std::size_t before = clips.size();
        bool found = false;
        for (const model::Sound& sound : project.sounds) {
            if (sound.name != name || sound.implied) continue;
            for (const model::Layer& layer : sound.layers)
                for (const int take : layer.takes) clips.insert(static_cast<std::size_t>(take)), found = true;
        }
        const std::string below = fs::path(name).lexically_normal().generic_string();
        for (std::size_t c = 0; !found && c < project.clips.size(); ++c) {
            const model::Clip& clip = project.clips[c];
            const bool inside = clip.file.starts_with(below.ends_with('/') ? below : below + '/');
            if (inside || fnmatch(name.c_str(), clip.name.c_str(), 0) == 0) clips.insert(c);
        }
        if (found || clips.size() > before) continue;
        const std::string near = model::nearest(name, known);
        refuse(edited, folder, FindingCode::unknown_name, {},
               fmt::format("no clip, sound or folder is named \"{}\"", name),
               near.empty() ? "`kiai list` prints all names" : fmt::format("did you mean \"{}\"?", near));
    }
    return clips;
}

/// Converts one clip after the other within an edit, and undoes all if the edit fails.
class Converter {
  public:
    Converter(fs::path folder, const ConvertOptions& options) : folder_(std::move(folder)), options_(options) {}

    std::vector<ConvertedClip> run(Document& toml, const model::Project& project, const std::set<std::size_t>& clips,
                                   EditResult& edited) {
        std::vector<ConvertedClip> all;
        for (const std::size_t index : clips) {
            const model::Clip& clip = project.clips[index];
            ConvertedClip one{clip.name, clip.file, {}, {}, {}, 0, 0, 0, Facts::silent, {}, {}, {}};
            if (clip.file.empty())
                one.why = "the clip has no file", one.fix = "give it a file first";
            else
                convert(project, static_cast<int>(index), one, edited);
            if (one.ok() && edited.ok() && one.file != one.file_before) name_file(toml, one);
            all.push_back(std::move(one));
        }
        return all;
    }

    /// The edit was written: the old files go, since `originals/` has them.
    void keep() {
        std::error_code error;
        for (const fs::path& file : replaced_) fs::remove(file, error);
    }

    /// The edit failed: the old files come back.
    void undo() {
        for (auto step = undo_.rbegin(); step != undo_.rend(); ++step) (*step)();
    }

  private:
    /// Reports why a trimmed start would change what is heard.
    void check_uses(const model::Project& project, int index, const NewFile& made, ConvertedClip& one) const {
        for (const model::Sound& sound : project.sounds)
            for (const model::Layer& layer : sound.layers) {
                if (std::find(layer.takes.begin(), layer.takes.end(), index) == layer.takes.end()) continue;
                const bool region = layer.loop.on && (layer.loop.from.value > 0 || layer.loop.to.value > 0);
                if (made.cut_start == 0 || (layer.start.value <= 0 && !region)) continue;
                const char* const what = region ? "the loop" : "`start`";
                one.why = fmt::format("{} of sound \"{}\" counts from the old beginning", what, sound.name);
                one.fix = "remove that key from the sound first";
                return;
            }
    }

    void convert(const model::Project& project, int index, ConvertedClip& one, EditResult& edited) {
        const auto known = done_.find(one.file_before);
        if (known != done_.end()) { // another clip of the same file
            const std::string name = one.name;
            one = known->second;
            one.name = name;
            return;
        }
        const reader::Decoded decoded = runtime::decode({folder_, {}}, one.file_before, reader::Stream::no);
        if (!decoded.ok()) {
            one.why = decoded.message, one.fix = decoded.fix;
            return;
        }
        one.before = decoded.facts;
        measure(*decoded.audio, one.before);
        if (one.before.channels > 2) {
            one.why = fmt::format("the file has {} channels", one.before.channels);
            one.fix = "export it in stereo";
            return;
        }
        if (!one.before.loops.empty()) {
            one.why = "the file has loop points, which the new file would lose";
            one.fix = "write the loop in kiai.toml, and export the file without it";
            return;
        }
        const AudioFormat own = format_of(one.before);
        const AudioFormat format = options_.format == AudioFormat::keep ? own : options_.format;
        const NewFile made = make_file(*decoded.audio, one.before, format, options_);
        one.gain = made.gain, one.cut_start = made.cut_start, one.cut_end = made.cut_end;
        one.after = made.after, one.residue = made.residue, one.remark = made.remark;
        if (!made.error.empty()) {
            one.why = made.error, one.fix = "choose another format";
            return;
        }
        check_uses(project, index, made, one);
        if (!one.ok()) return;
        one.file = one.file_before;
        const bool same_kind = format == own && (own != AudioFormat::wav || one.before.format.starts_with("WAV"));
        if (!same_kind) one.file = fs::path(one.file_before).replace_extension(extension_of(format)).generic_string();
        write(made.bytes, one, edited);
        done_[one.file_before] = one;
    }

    void write(const std::string& bytes, ConvertedClip& one, EditResult& edited) {
        const fs::path before = folder_ / one.file_before, after = folder_ / one.file,
                       original = folder_ / originals / one.file_before;
        std::error_code error;
        if (after != before && fs::exists(after, error)) {
            one.why = fmt::format("\"{}\" already exists", one.file);
            one.fix = "remove or rename that file first";
            return;
        }
        if (fs::path(one.file_before).lexically_normal().generic_string().starts_with("..")) {
            one.why = "the file is outside of the project";
            one.fix = "run kiai add to copy it into the project";
            return;
        }
        if (options_.dry_run) return;
        fs::create_directories(original.parent_path(), error);
        std::string failure;
        if (!fs::exists(original, error)) {
            failure = copy_new(before, original);
            if (failure.empty())
                undo_.emplace_back([original] {
                    std::error_code ignored;
                    fs::remove(original, ignored);
                });
        }
        std::string old = after == before ? bytes_of(before) : std::string();
        if (failure.empty()) failure = write_atomically(after, bytes);
        if (!failure.empty())
            return refuse(edited, folder_, FindingCode::not_written, {},
                          fmt::format("cannot write \"{}\" ({})", one.file, failure),
                          "check the disk and the permissions; nothing was changed");
        if (after == before) {
            undo_.emplace_back([before, content = std::move(old)] { write_atomically(before, content); });
            return;
        }
        replaced_.push_back(before);
        undo_.emplace_back([after] {
            std::error_code ignored;
            fs::remove(after, ignored);
        });
    }

    static void name_file(Document& toml, const ConvertedClip& one) {
        Place place{std::string("clip"), one.name};
        const reader::Value* clips = toml.root().find("clip");
        const reader::Value* entry = clips ? clips->find(one.name) : nullptr;
        if (entry && entry->kind == reader::Value::Kind::table) place.emplace_back(std::string("file"));
        toml.set_text(place, one.file);
    }

    fs::path folder_;
    const ConvertOptions& options_;
    std::map<std::string, ConvertedClip> done_; ///< by file: several clips may name one
    std::vector<fs::path> replaced_;
    std::vector<std::function<void()>> undo_;
};

} // namespace

bool ConvertResult::ok() const noexcept {
    return edited.ok() && std::all_of(clips.begin(), clips.end(), [](const ConvertedClip& clip) { return clip.ok(); });
}

ConvertResult convert_clips(const fs::path& folder, const std::vector<std::string>& names,
                            const ConvertOptions& options) {
    ConvertResult result;
    Converter converter(folder, options);
    const auto change = [&](Document& toml, EditResult& edited) {
        const Project project = read_entries(folder, toml.root()).project;
        const std::set<std::size_t> clips = chosen(project.data(), folder, names, edited);
        if (edited.ok()) result.clips = converter.run(toml, project.data(), clips, edited);
    };
    result.edited = options.dry_run ? try_edit(folder, change) : edit_project(folder, change);
    if (options.dry_run) return result;
    if (result.edited.ok())
        converter.keep();
    else
        converter.undo();
    return result;
}

} // namespace kiai::inline v0
