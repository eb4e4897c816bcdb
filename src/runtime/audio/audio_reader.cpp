#include "runtime/audio/audio_reader.h"
#include "core/model/fill.h"

#include "core/model/ascii.h"
#include "runtime/audio/audio_file.h"
#include "runtime/audio/audio_format.h"
#include "runtime/audio/av_reader.h"
#include "runtime/audio/claims.h"
#include "runtime/audio/fold.h"
#include "runtime/audio/mp3.h"
#include "runtime/audio/planar.h"
#include "runtime/audio/refuse.h"
#include "runtime/audio/sniff.h"
#include "runtime/audio/stream_file.h"

#include <algorithm>
#include <cerrno>
#include <cstring>

namespace kiai::runtime {
namespace {

constexpr sf_count_t most_padding = 1 << 14; // of a block coding

/// Skips frames at the beginning.
void skip(SNDFILE* file, const SF_INFO& info, std::int64_t frames) {
    std::vector<float> buffer(static_cast<std::size_t>(frames * info.channels));
    sf_readf_float(file, buffer.data(), frames);
}

/// A block coding pads its last block; the file says how much of it is valid.
template<class Sample>
void trim(std::vector<Sample>& planar, std::int64_t frames, int channels) {
    const auto had = static_cast<std::ptrdiff_t>(planar.size()) / channels;
    if (frames <= 0 || frames >= had) return;
    if (channels == 2) planar.erase(planar.begin() + frames, planar.begin() + had);
    planar.resize(static_cast<std::size_t>(frames * channels));
    planar.shrink_to_fit();
}

std::vector<FoldGain> fold_of(SNDFILE* file, const SF_INFO& info) {
    const int channels = info.channels;
    if (channels <= 2) return {};
    std::vector<int> places(static_cast<std::size_t>(channels));
    if (sf_command(file, SFC_GET_CHANNEL_MAP_INFO, places.data(), channels * static_cast<int>(sizeof(int))) != SF_TRUE)
        places.clear();
    return fold_gains(channels, places, (info.format & SF_FORMAT_TYPEMASK) == SF_FORMAT_OGG);
}

void read_loops(SNDFILE* file, sf_count_t frames, Facts& facts) {
    SF_INSTRUMENT instrument{};
    if (sf_command(file, SFC_GET_INSTRUMENT, &instrument, sizeof instrument) != SF_TRUE) return;
    const int most = static_cast<int>(std::size(instrument.loops));
    for (int i = 0; i < std::clamp(instrument.loop_count, 0, most); ++i) {
        const auto& loop = instrument.loops[i];
        if (loop.mode != SF_LOOP_NONE && loop.start < loop.end && (frames == 0 || loop.end <= frames))
            facts.loops.push_back({loop.start, loop.end});
    }
}

/// Returns why the file cannot be opened.
reader::Decoded unreadable(const FileAccess& access, const std::string& name, reader::Decoded decoded) {
    errno = 0;
    const auto file = access.stream(name);
    if (!file && errno == EACCES)
        return refuse(std::move(decoded), FindingCode::permission_denied, "permission denied",
                      "change the permissions of the file");
    if (!file)
        return refuse(std::move(decoded), FindingCode::file_unreadable,
                      model::fill("cannot be opened ({})",
                                  errno != 0 ? std::strerror(errno) : "the app's reader has no such file"),
                      "correct the path, or check the disk");
    char head[12] = {};
    file->read(head, sizeof head);
    if (file->gcount() == 0)
        return refuse(std::move(decoded), FindingCode::file_empty, "is empty (0 bytes)",
                      "export it again; the export may have been interrupted");
    if (const std::string other = what_else(*file); !other.empty())
        return refuse(std::move(decoded), FindingCode::file_unreadable,
                      model::fill("is {}, which Kiai cannot read", other),
                      "download or export the sound as WAV, FLAC, Ogg Vorbis, Opus or MP3");
    return refuse(std::move(decoded), FindingCode::file_unreadable,
                  "is damaged, or not in an audio format that Kiai can read",
                  "export it again as WAV, FLAC or Ogg Vorbis");
}

/// Returns true if the file is MPEG audio. The decoder prints to standard error about anything else, so it gets nothing
/// else.
bool may_be_mp3(const std::string& name, std::istream& file) {
    const std::string extension = model::lower(std::filesystem::path(name).extension().string());
    char head[3] = {};
    file.read(head, sizeof head);
    const bool sync =
        static_cast<unsigned char>(head[0]) == 0xff && (static_cast<unsigned char>(head[1]) & 0xe0) == 0xe0;
    return sync || std::string_view(head, 3) == "ID3" || extension == ".mp3" || extension == ".mp2" ||
           extension == ".mpga";
}

void describe_file(const FileAccess& access, const std::string& file, const SF_INFO& info, Facts& facts) {
    std::error_code error;
    describe_format(info.format, facts);
    facts.rate = info.samplerate;
    facts.channels = info.channels;
    if (!access.own()) facts.bytes = std::filesystem::file_size(access.path(file), error);
    facts.claimed = info.frames;
}

void compare_claims(const Claims& claims, Facts& facts) {
    if (claims.frames > 0) facts.claimed = std::min(facts.claimed, claims.frames);
    if (claims.present >= 0 && claims.present < claims.data)
        facts.claimed = static_cast<Frames>(static_cast<double>(facts.frames) * static_cast<double>(claims.data) /
                                            static_cast<double>(std::max<std::int64_t>(1, claims.present)));
    if (claims.cut) facts.claimed = -1;
}

} // namespace

reader::Decoded decode(const FileAccess& access, const std::string& name, reader::Stream stream, Frames most) {
    reader::Decoded decoded;
    const auto bytes = access.stream(name);
#ifdef KIAI_READS_AAC
    if (bytes && is_av_file(*bytes)) return decode_av(access, name, stream, most);
#endif
    Mp3 mp3;
    if (bytes && may_be_mp3(name, *bytes) && !(mp3 = read_mp3(*bytes)).is)
        return unreadable(access, name, std::move(decoded));
    const AudioFile file(access, name);
    if (!file.get()) return unreadable(access, name, std::move(decoded));
    SF_INFO info = file.info();
    Facts& facts = decoded.facts;
    describe_file(access, name, info, facts);
    decoded.samples = holds_samples(info.format);
    decoded = check_shape(std::move(decoded), info.samplerate, info.channels);
    if (!decoded.ok()) return decoded;
    const bool narrow = is_narrow(info.format) && info.channels <= 2;
    const int channels = std::min(info.channels, 2);
    Claims claims = bytes ? read_claims(*bytes) : Claims{};
    if (claims.frames > 0 && info.frames - claims.frames > most_padding) claims.frames = -1; // some write half of it
    if (claims.cut) info.frames = 0; // the end of the file, which is missing, states how many
    if (claims.frames > 0) info.frames = std::min<sf_count_t>(info.frames, claims.frames);
    if (mp3.is && !mp3.counted) { // the decoder only estimates how long it is
        info.frames = std::max<sf_count_t>(1, mp3.frames - mp3.delay());
        facts.claimed = 0;
    }
    const auto most_frames = static_cast<sf_count_t>(most_bytes / (channels * (narrow ? 2 : 4)));
    const bool streamed = info.frames > 0 && reader::is_streamed(stream, info.frames, info.samplerate);
    if (info.frames > most_frames) return refuse_length(std::move(decoded), info.frames, info.samplerate);

    auto audio = std::make_shared<model::Audio>();
    audio->rate = info.samplerate;
    audio->channels = channels;
    audio->frames = info.frames;
    const auto fold = fold_of(file.get(), info);
    if (mp3.delay() > 0) skip(file.get(), info, mp3.delay());
    const sf_count_t held = most > 0   ? std::min<sf_count_t>(most_frames, most)
                            : streamed ? std::min<sf_count_t>(info.frames, head_seconds * info.samplerate)
                                       : most_frames;
    if (narrow)
        audio->narrow =
            read_planar<std::int16_t>(info.channels, info.frames, held, {}, [&](std::int16_t* into, sf_count_t count) {
                return sf_readf_short(file.get(), into, count);
            });
    else
        audio->wide = read_planar<float>(info.channels, info.frames, held, fold, [&](float* into, sf_count_t count) {
            return sf_readf_float(file.get(), into, count);
        });
    if (streamed) {
        audio->stream = std::make_shared<StreamFile>(access, name, fold, narrow, mp3.is ? mp3.delay() : -1);
    } else {
        trim(audio->narrow, claims.frames, channels);
        trim(audio->wide, claims.frames, channels);
    }
    read_loops(file.get(), info.frames, facts);
    audio->loops = facts.loops;
    decoded = accept(std::move(decoded), std::move(audio), info.frames, most, most_frames);
    if (decoded.ok()) compare_claims(claims, facts);
    return decoded;
}

} // namespace kiai::runtime
