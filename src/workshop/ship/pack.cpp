#include "core/model/parallel.h"
#include "core/reader/project_reader.h"
#include "runtime/audio/audio_reader.h"
#include "runtime/project/pack_file.h"
#include "runtime/project/parse_toml.h"
#include "runtime/project/read_folder.h"
#include "workshop/check/uses.h"
#include "workshop/disk/atomic_write.h"
#include "workshop/facts/facts_cache.h"
#include "workshop/ship/encode.h"
#include "workshop/ship/pack_writer.h"

#include <kiai/version.h>
#include <kiai/workshop/pack.h>

#include <fmt/format.h>

#include <algorithm>
#include <fstream>
#include <iterator>
#include <optional>

namespace kiai::workshop {
namespace {

namespace fs = std::filesystem;
using runtime::PackCoding;

/// A file of the project that goes into the pack.
struct Item {
    std::string file;
    model::Packed as = model::Packed::as_it_is;
    bool streamed = false;
    std::vector<std::string> names; ///< of the clips
};

std::string bytes_of(const auto& samples) {
    return {reinterpret_cast<const char*>(samples.data()), samples.size() * sizeof samples[0]};
}

/// Interleaves the samples, because streams read frame by frame.
template<class Sample>
std::vector<Sample> interleaved(const std::vector<Sample>& planar, std::size_t channels) {
    const std::size_t frames = planar.size() / channels;
    std::vector<Sample> all(planar.size());
    for (std::size_t channel = 0; channel < channels; ++channel)
        for (std::size_t frame = 0; frame < frames; ++frame)
            all[frame * channels + channel] = planar[channel * frames + frame];
    return all;
}

/// A clip with its bytes in the pack, or the reason why there are none.
struct Made {
    runtime::PackClip clip;
    std::string bytes;
    std::string error;
};

Made make(const fs::path& folder, const Item& item, double quality) {
    Made made;
    runtime::PackClip& clip = made.clip;
    clip.file = item.file;
    const runtime::FileAccess access(folder, {});
    const reader::Decoded decoded = runtime::decode(access, item.file, reader::Stream::no);
    if (!decoded.ok()) {
        made.error = decoded.message;
        return made;
    }
    const model::Audio& audio = *decoded.audio;
    clip.narrow = audio.wide.empty();
    clip.rate = audio.rate;
    clip.channels = audio.channels;
    clip.frames = audio.frames;
    clip.loops = audio.loops;
    if (item.as == model::Packed::flac || item.as == model::Packed::ogg) {
        clip.coding = item.as == model::Packed::flac ? PackCoding::flac : PackCoding::ogg;
        Encoded encoded = encode(audio, item.as == model::Packed::flac ? Encoding::flac : Encoding::ogg, quality);
        made.bytes = std::move(encoded.bytes);
        if (!encoded.error.empty()) made.error = fmt::format("cannot be encoded: {}", encoded.error);
    } else if (item.as == model::Packed::wav || decoded.samples) {
        const auto channels = static_cast<std::size_t>(audio.channels);
        clip.coding = item.streamed ? PackCoding::interleaved : PackCoding::planar;
        if (!item.streamed)
            made.bytes = clip.narrow ? bytes_of(audio.narrow) : bytes_of(audio.wide);
        else
            made.bytes = clip.narrow ? bytes_of(interleaved(audio.narrow, channels))
                                     : bytes_of(interleaved(audio.wide, channels));
    } else {
        std::ifstream file(access.path(item.file), std::ios::binary);
        made.bytes.assign(std::istreambuf_iterator<char>(file), {});
        if (!file) made.error = "cannot be read";
    }
    return made;
}

/// Returns the entries without those for people and without clips that are not packed.
reader::Value pruned(reader::Value root, const std::set<std::string>& left_out) {
    std::erase_if(root.members,
                  [](const reader::Member& member) { return member.key == "credit" || member.key == "accepted"; });
    for (reader::Member& section : root.members) {
        if (section.key != "clip") continue;
        std::erase_if(section.value.members, [&](const reader::Member& clip) { return left_out.contains(clip.key); });
        for (reader::Member& clip : section.value.members)
            std::erase_if(clip.value.members, [](const reader::Member& key) {
                return key.key == "author" || key.key == "licence" || key.key == "source" || key.key == "note" ||
                       key.key == "pack";
            });
    }
    return root;
}

struct Plan {
    std::vector<Item> items;
    std::vector<std::string> left_out;
};

Plan plan(const model::Project& project, PackAs as) {
    Plan made;
    const Uses uses = uses_of(project);
    std::map<std::string, std::size_t> by_file;
    for (std::size_t c = 0; c < project.clips.size(); ++c) {
        const model::Clip& clip = project.clips[c];
        if (!uses.clips.contains(static_cast<int>(c)) && !clip.packed) {
            if (!clip.file.empty()) made.left_out.push_back(clip.name);
            continue;
        }
        if (clip.file.empty()) continue; // the app gives it
        const auto [found, fresh] = by_file.emplace(clip.file, made.items.size());
        if (fresh) made.items.push_back({clip.file, clip.packed.value_or(static_cast<model::Packed>(as)), false, {}});
        Item& item = made.items[found->second];
        item.streamed = item.streamed || clip.streams;
        item.names.push_back(clip.name);
    }
    return made;
}

/// Writes blob after blob, then the index, then the header.
class PackMaker {
  public:
    explicit PackMaker(const fs::path& out) : file_(out) { file_.write(std::string(runtime::pack_head_bytes, '\0')); }

    void add(runtime::PackClip clip, std::string_view bytes) {
        file_.write(std::string(
            (runtime::pack_alignment - file_.at() % runtime::pack_alignment) % runtime::pack_alignment, '\0'));
        clip.blob.from = file_.at();
        clip.blob.bytes = bytes.size();
        for (std::size_t from = 0; from < bytes.size(); from += runtime::pack_block)
            clip.blob.sums.push_back(checksum(bytes.substr(from, runtime::pack_block)));
        file_.write(bytes);
        index.clips.push_back(std::move(clip));
    }

    /// Returns the pack's size; 0, with the error, if it could not be written.
    std::uint64_t finish(std::string& error) {
        PackWriter entries;
        fields(entries, index);
        runtime::PackHead head;
        head.index_from = file_.at();
        head.index_bytes = entries.bytes().size();
        head.index_sum = checksum(entries.bytes());
        head.bytes = head.index_from + head.index_bytes;
        PackWriter begin;
        fields(begin, head);
        begin.fixed(checksum(begin.bytes()));
        file_.write(entries.bytes());
        file_.overwrite_begin(begin.bytes());
        error = file_.finish();
        return error.empty() ? head.bytes : 0;
    }

    runtime::PackIndex index;

  private:
    static std::uint64_t checksum(std::string_view bytes) {
        return runtime::pack_checksum(std::as_bytes(std::span(bytes)));
    }
    AtomicFile file_;
};

std::string coding_name(const runtime::PackClip& clip) {
    switch (clip.coding) {
    case PackCoding::file:
        return "as it is";
    case PackCoding::flac:
        return "FLAC";
    case PackCoding::ogg:
        return "Ogg Vorbis";
    case PackCoding::planar:
    case PackCoding::interleaved:
        return clip.narrow ? "samples, 16-bit" : "samples, 32-bit float";
    }
    return {};
}

PackedClip told(const runtime::PackClip& clip) {
    return {clip.file, coding_name(clip), clip.rate, clip.channels, clip.frames, clip.blob.bytes};
}

} // namespace
} // namespace kiai::workshop

namespace kiai::inline v0 {

PackResult make_pack(const std::filesystem::path& folder, const PackSettings& settings) {
    workshop::FactsCache cache(folder, false);
    const LoadResult read = runtime::read_folder(cache);
    PackResult result;
    result.project = read.project.name();
    result.findings = read.findings;
    if (!read.ok()) return result;
    reader::Findings findings((folder / "kiai.toml").string());
    const model::Project& project = read.project.data();
    workshop::Plan plan = workshop::plan(project, settings.as);
    const std::vector<workshop::Item>& items = plan.items;
    std::error_code error;
    std::set<std::string> files;
    for (const model::Clip& clip : project.clips)
        if (!clip.file.empty() && files.insert(clip.file).second)
            result.source_bytes += std::filesystem::file_size(folder / clip.file, error);

    const auto parsed = runtime::parse_toml(runtime::read_text(folder).text);
    workshop::PackMaker maker(settings.out);
    maker.index.fingerprint = read.project.fingerprint();
    maker.index.made_by = version;
    if (const auto* root = std::get_if<reader::Value>(&parsed)) // it was, when it was read a moment ago
        maker.index.root = workshop::pruned(*root, {plan.left_out.begin(), plan.left_out.end()});
    constexpr std::size_t at_once = 16; // what is held of the clips meanwhile
    for (std::size_t from = 0; from < items.size(); from += at_once) {
        std::vector<workshop::Made> made(std::min(at_once, items.size() - from));
        model::in_parallel(made.size(),
                           [&](std::size_t i) { made[i] = workshop::make(folder, items[from + i], settings.quality); });
        for (std::size_t i = 0; i < made.size(); ++i) {
            if (!made[i].error.empty()) {
                const std::string& name = items[from + i].names.front();
                findings.add(FindingCode::file_unreadable, Severity::error, {},
                             fmt::format("clip \"{}\": \"{}\" {}", name, made[i].clip.file, made[i].error),
                             "export it again, or pack it as it is", name);
                continue;
            }
            maker.add(made[i].clip, made[i].bytes);
            result.clips.push_back(workshop::told(maker.index.clips.back()));
        }
    }
    std::vector<Finding> wrong = findings.take();
    if (std::string why; wrong.empty() && (result.bytes = maker.finish(why)) == 0) {
        findings.add(FindingCode::not_written, Severity::error, {}, why, "choose a place that can be written");
        wrong = findings.take();
    }
    result.findings.insert(result.findings.end(), wrong.begin(), wrong.end());
    result.left_out = std::move(plan.left_out);
    return result;
}

PackResult list_pack(const std::filesystem::path& path) {
    PackResult result;
    reader::Findings findings(path.string());
    runtime::Pack pack;
    if (runtime::PackError error = runtime::open_pack(std::make_shared<const runtime::FileBytes>(path), pack);
        !error.message.empty()) {
        findings.add(error.code, Severity::error, {}, error.message, error.fix);
        result.findings = findings.take();
        return result;
    }
    const reader::Value* const name = pack.index.root.find("name");
    result.project = name ? name->text : std::string();
    result.bytes = pack.file->size();
    for (const runtime::PackClip& clip : pack.index.clips) {
        runtime::BlobReader blob(pack.file, clip.blob);
        std::array<std::byte, 1 << 16> block{};
        std::int64_t at = 0;
        while (const std::int64_t got = blob.read(at, block)) at += got;
        if (at != blob.size())
            findings.add(FindingCode::pack_damaged, {}, fmt::format("\"{}\" damaged in the pack", clip.file),
                         "make the pack again with `kiai pack`, or copy it again", clip.file);
        result.clips.push_back(workshop::told(clip));
    }
    result.findings = findings.take();
    return result;
}

} // namespace kiai::inline v0
