#include "runtime/project/pack_clips.h"

#include "core/model/chance.h"
#include "core/model/fill.h"
#include "core/model/guarded.h"
#include "core/model/parallel.h"
#include "core/model/project.h"
#include "core/reader/samples.h"
#include "runtime/audio/audio_reader.h"
#include "runtime/audio/file_access.h"
#include "runtime/project/pack_stream.h"

#include <algorithm>
#include <cstring>
#include <map>
#include <optional>
#include <utility>

namespace kiai::runtime {
namespace {

/// Returns a stamp that depends only on the content of the clip.
std::string stamp_of(const PackClip& clip) {
    std::uint64_t sum = model::hash(clip.file) ^ static_cast<std::uint64_t>(clip.coding);
    for (const std::uint64_t one : clip.blob.sums) sum = model::scatter(sum ^ one);
    return "pack " + model::hexadecimal(sum);
}

reader::Decoded damaged(const char* how) {
    reader::Decoded decoded;
    decoded.code = FindingCode::pack_damaged;
    decoded.message = how;
    decoded.fix = "make the pack again with `kiai pack`, or copy it again";
    return decoded;
}

/// Reads planar samples of the first `held` frames.
template<class Sample>
void take(const PackClip& clip, std::span<const std::byte> bytes, std::int64_t held, std::vector<Sample>& into) {
    const auto channels = static_cast<std::size_t>(clip.channels), frames = static_cast<std::size_t>(held);
    if (clip.coding == PackCoding::planar || channels == 1) {                    // then all frames are held
        const auto* const begin = reinterpret_cast<const Sample*>(bytes.data()); // the pack aligns it
        into.assign(begin, begin + frames * channels);
        return;
    }
    into.resize(frames * channels);
    for (std::size_t frame = 0; frame < frames; ++frame)
        for (std::size_t channel = 0; channel < channels; ++channel)
            std::memcpy(&into[channel * frames + frame], bytes.data() + (frame * channels + channel) * sizeof(Sample),
                        sizeof(Sample));
}

/// Adds the loop points that an encoding does not keep.
reader::Decoded with_loops(reader::Decoded decoded, const PackClip& clip) {
    if (!decoded.audio || !decoded.audio->loops.empty() || clip.loops.empty()) return decoded;
    auto looped = std::make_shared<model::Audio>(*decoded.audio);
    looped->loops = clip.loops;
    decoded.audio = std::move(looped);
    return decoded;
}

/// Returns nothing if the app has no decoder for the clip. An exception of it counts as such.
std::optional<reader::Decoded> decoded_by_app(const PackClip& clip, const DecodeFile& decode,
                                              std::span<const std::byte> bytes) {
    std::optional<Samples> samples;
    if (!decode || model::thrown_by([&] { samples = decode(clip.file, bytes); }) || !samples) return std::nullopt;
    reader::Decoded decoded;
    if (const std::string fault = reader::fault_of(*samples); fault.empty()) {
        decoded.audio = reader::audio_of(*samples);
    } else {
        decoded.code = FindingCode::file_unreadable;
        decoded.message = model::fill("was decoded by the app to samples with {}", fault);
        decoded.fix = "correct LoadOptions::decode";
    }
    return decoded;
}

} // namespace

PackClips::PackClips(const Pack& pack, const LoadOptions* options) : pack_(pack), options_(options) {
    for (const PackClip& clip : pack.index.clips) by_file_.emplace(clip.file, &clip);
}

reader::Decoded PackClips::decode(const PackClip& clip, reader::Stream stream,
                                  std::span<const std::byte> mapped) const {
    const PackBlob& blob = clip.blob;
    const auto bytes = mapped.subspan(static_cast<std::size_t>(blob.from), static_cast<std::size_t>(blob.bytes));
    const bool streamed = clip.coding != PackCoding::planar && reader::is_streamed(stream, clip.frames, clip.rate);
    if ((!streamed || options_->decode) && !whole(blob, bytes)) return damaged("damaged in the pack");
    if (!holds_samples(clip.coding)) {
        if (auto by_app = decoded_by_app(clip, options_->decode, bytes)) return with_loops(std::move(*by_app), clip);
        const FileAccess access({}, [file = pack_.file, blob](const std::string&) -> std::unique_ptr<FileReader> {
            return std::make_unique<BlobReader>(file, blob);
        });
        const bool as_it_was = clip.coding == PackCoding::file; // its name may identify its format
        return with_loops(runtime::decode(access, as_it_was ? clip.file : "clip", stream), clip);
    }
    constexpr std::int64_t head_seconds = 1, most_bytes = 1 << 30;
    const std::int64_t held = streamed ? std::min(clip.frames, head_seconds * clip.rate) : clip.frames;
    if (held > most_bytes / clip.channels / (clip.narrow ? 2 : 4)) return damaged("takes more than 1 GiB in memory");
    auto audio = std::make_shared<model::Audio>();
    audio->rate = clip.rate;
    audio->channels = clip.channels;
    audio->frames = clip.frames;
    audio->loops = clip.loops;
    if (streamed) audio->stream = std::make_shared<PackStream>(pack_.file, clip);
    if (clip.narrow)
        take(clip, bytes, held, audio->narrow);
    else
        take(clip, bytes, held, audio->wide);
    audio->complete();
    reader::Decoded decoded;
    decoded.audio = std::move(audio);
    return decoded;
}

std::vector<reader::Decoded> PackClips::read(const std::vector<reader::AskedFile>& files) {
    std::vector<reader::Decoded> all(files.size());
    const auto tell = [&](std::size_t i) {
        const PackClip& clip = *by_file_.at(files[i].file);
        all[i].facts.frames = all[i].facts.claimed = all[i].audio ? all[i].audio->frames : clip.frames;
        all[i].facts.rate = clip.rate;
        all[i].facts.channels = std::min(clip.channels, 2);
        all[i].facts.loops = clip.loops;
    };
    if (!options_) {
        for (std::size_t i = 0; i < files.size(); ++i) tell(i);
        return all;
    }
    std::unordered_map<std::string, const model::Clip*> known;
    for (const model::Clip& clip : options_->reuse.data().clips)
        if (!clip.stamp.empty() && clip.audio) known.emplace(clip.stamp, &clip);
    // Clips of one file share its samples.
    std::vector<std::size_t> once;
    std::vector<std::size_t> same_as(files.size());
    std::map<std::pair<std::string, reader::Stream>, std::size_t> first;
    for (std::size_t i = 0; i < files.size(); ++i) {
        same_as[i] = first.emplace(std::pair(files[i].file, files[i].stream), i).first->second;
        if (same_as[i] == i) once.push_back(i);
    }
    const FileBytes::Map map(*pack_.file);
    model::in_parallel(
        once.size(),
        [&](std::size_t piece) {
            const std::size_t i = once[piece];
            const PackClip& clip = *by_file_.at(files[i].file);
            if (options_->cancel && options_->cancel()) {
                all[i] = reader::not_read();
                return;
            }
            const std::string stamp = stamp_of(clip);
            const auto found = known.find(stamp);
            if (found != known.end() &&
                found->second->streamed() == reader::is_streamed(files[i].stream, clip.frames, clip.rate)) {
                all[i].audio = found->second->audio;
            } else if (map.bytes().size() != pack_.file->size()) {
                all[i] = damaged("cannot be read from the pack: it does not fit into the address space");
            } else {
                all[i] = decode(clip, files[i].stream, map.bytes());
            }
            all[i].stamp = stamp;
            if (all[i].ok()) tell(i);
        },
        options_->progress);
    for (std::size_t i = 0; i < files.size(); ++i)
        if (same_as[i] != i) all[i] = all[same_as[i]];
    return all;
}

} // namespace kiai::runtime
