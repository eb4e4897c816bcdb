#include "runtime/project/folder_clips.h"

#include "core/model/fill.h"
#include "core/model/near.h"
#include "core/model/parallel.h"
#include "core/model/project.h"
#include "runtime/audio/audio_reader.h"
#include "runtime/project/folder.h"

#include <algorithm>
#include <map>

namespace kiai::runtime {

namespace fs = std::filesystem;

namespace {

/// Returns the files in the folder of a missing file.
std::vector<std::string> neighbours(const fs::path& path) {
    std::vector<std::string> names;
    std::error_code error;
    for (fs::directory_iterator at(path.parent_path(), error), end; !error && at != end && names.size() < 10000;
         at.increment(error))
        if (at->is_regular_file(error)) names.push_back(at->path().filename().string());
    std::sort(names.begin(), names.end());
    return names;
}

} // namespace

bool FolderClips::stays_inside(const std::string& file) const {
    return runtime::stays_inside(folder_, file);
}

reader::ClipFiles::Meant FolderClips::meant(const std::string& missing, const std::set<std::string>&) {
    const fs::path path = folder_ / missing;
    const std::string wanted = path.filename().string();
    const std::string near = model::nearest(wanted, neighbours(path));
    if (near.empty()) return {"add the file, or correct the path", {}};
    const std::string there = (fs::path(missing).parent_path() / near).generic_string();
    const bool by_case = model::same_but_for_case(wanted, near);
    const bool by_extension = !by_case && fs::path(wanted).stem() == fs::path(near).stem();
    return {model::fill("did you mean \"{}\"{}?", there,
                        by_case        ? " (different letter case)"
                        : by_extension ? " (different extension)"
                                       : ""),
            by_case ? there : std::string()};
}

std::vector<reader::Decoded> NamedFiles::read(const std::vector<reader::AskedFile>& files) {
    reader::Decoded one;
    one.facts.frames = one.facts.claimed = 1;
    one.facts.rate = 48000;
    one.facts.channels = 1;
    return std::vector<reader::Decoded>(files.size(), one);
}

std::string DecodedFiles::stamp_of(const std::string& file) const {
    if (access().own()) return {}; // the app's reader has no times
    const fs::path path = fs::absolute(access().path(file)).lexically_normal();
    std::error_code error;
    const auto bytes = fs::file_size(path, error);
    if (error) return {};
    const auto changed = fs::last_write_time(path, error);
    return error ? std::string() : model::fill("{} {} {}", bytes, changed.time_since_epoch().count(), path.string());
}

std::vector<reader::Decoded> DecodedFiles::read(const std::vector<reader::AskedFile>& files) {
    std::map<std::string, const model::Clip*> known;
    for (const model::Clip& clip : options_.reuse.data().clips)
        if (!clip.stamp.empty() && clip.audio) known.emplace(clip.stamp, &clip);
    std::vector<reader::Decoded> all(files.size());
    model::in_parallel(
        files.size(),
        [&](std::size_t i) {
            const reader::AskedFile& asked = files[i];
            if (!(options_.cancel && options_.cancel())) {
                const std::string stamp = stamp_of(asked.file); // before it is read: a later change is seen
                const auto found = known.find(stamp);
                if (found != known.end() &&
                    found->second->streamed() ==
                        reader::is_streamed(asked.stream, found->second->frames(), found->second->rate())) {
                    all[i].audio = found->second->audio;
                    all[i].facts.frames = all[i].facts.claimed = all[i].audio->frames;
                    all[i].facts.rate = all[i].audio->rate;
                    all[i].facts.channels = all[i].audio->channels;
                } else {
                    all[i] = decode(access(), asked.file, asked.stream);
                }
                all[i].stamp = stamp;
                return;
            }
            all[i] = reader::not_read();
        },
        options_.progress);
    return all;
}

} // namespace kiai::runtime
