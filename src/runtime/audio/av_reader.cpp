#include "runtime/audio/av_reader.h"

#include "core/model/fill.h"
#include "core/model/stream_source.h"
#include "runtime/audio/av_file.h"
#include "runtime/audio/planar.h"
#include "runtime/audio/refuse.h"
#include "runtime/audio/sniff.h"

#include <cmath>

namespace kiai::runtime {
namespace {

class AvReading : public model::FrameReader {
  public:
    AvReading(const FileAccess& access, const std::string& file, const std::vector<FoldGain>& fold)
        : file_(access, file), fold_(fold) {}
    bool open() const noexcept { return file_.open(); }

    std::int64_t read(std::int64_t from, std::int64_t frames, float* left, float* right) override {
        if (!file_.open() || !file_.seek(from)) return 0;
        const std::vector<float> planar =
            read_planar<float>(file_.channels(), frames, frames, fold_,
                               [this](float* into, std::int64_t count) { return file_.read(into, count); });
        const std::size_t sides = file_.channels() > 1 ? 2 : 1, got = planar.size() / sides;
        for (std::size_t i = 0; i < got; ++i) {
            left[i] = std::isfinite(planar[i]) ? planar[i] : 0; // these samples were not checked before
            if (right) right[i] = std::isfinite(planar[got * (sides - 1) + i]) ? planar[got * (sides - 1) + i] : 0;
        }
        return static_cast<std::int64_t>(got);
    }

  private:
    AvFile file_;
    std::vector<FoldGain> fold_;
};

class AvStream : public model::StreamSource {
  public:
    AvStream(FileAccess access, std::string file, std::vector<FoldGain> fold)
        : access_(std::move(access)), file_(std::move(file)), fold_(std::move(fold)) {}
    std::unique_ptr<model::FrameReader> open() const override {
        auto reading = std::make_unique<AvReading>(access_, file_, fold_);
        return reading->open() ? std::move(reading) : nullptr;
    }

  private:
    FileAccess access_;
    std::string file_;
    std::vector<FoldGain> fold_;
};

reader::Decoded unreadable(const FileAccess& access, const std::string& name) {
    const auto bytes = access.stream(name);
    const std::string what = bytes ? what_else(*bytes) : "AAC audio";
    if (!av_library())
        return refuse({}, FindingCode::file_unreadable,
                      model::fill("is {}, and this system lacks the FFmpeg libraries that decode it", what),
                      "install libavformat and libavcodec, or export the sound as WAV, FLAC, Ogg Vorbis, Opus or MP3");
    return refuse({}, FindingCode::file_unreadable,
                  model::fill("is {}, but damaged, protected, or in a coding that Kiai cannot read", what),
                  "export the sound as WAV, FLAC, Ogg Vorbis, Opus or MP3");
}

} // namespace

bool is_av_file(std::istream& file) {
    char head[8] = {};
    file.clear();
    file.seekg(0);
    file.read(head, sizeof head);
    const auto got = file.gcount();
    file.clear();
    file.seekg(0);
    const bool adts =
        static_cast<unsigned char>(head[0]) == 0xff && (static_cast<unsigned char>(head[1]) & 0xf6) == 0xf0;
    return got == sizeof head && (adts || std::string_view(head + 4, 4) == "ftyp");
}

reader::Decoded decode_av(const FileAccess& access, const std::string& name, reader::Stream stream, Frames most) {
    AvFile file(access, name);
    if (!file.open()) return unreadable(access, name);
    reader::Decoded decoded;
    Facts& facts = decoded.facts;
    facts.format = file.format();
    facts.coding = file.coding();
    facts.bits = file.bits();
    facts.rate = file.rate();
    facts.channels = file.channels();
    facts.claimed = file.frames();
    std::error_code error;
    if (!access.own()) facts.bytes = std::filesystem::file_size(access.path(name), error);
    decoded = check_shape(std::move(decoded), file.rate(), file.channels());
    if (!decoded.ok()) return decoded;

    const int channels = std::min(file.channels(), 2);
    const bool narrow = file.bits() == 16 && file.channels() <= 2;
    const auto most_frames = static_cast<std::int64_t>(most_bytes / (channels * (narrow ? 2 : 4)));
    if (file.frames() > most_frames) return refuse_length(std::move(decoded), file.frames(), file.rate());
    const bool streamed = file.frames() > 0 && reader::is_streamed(stream, file.frames(), file.rate());
    std::vector<FoldGain> fold;
    if (file.channels() > 2) fold = fold_gains(file.channels(), file.places(), false);

    auto audio = std::make_shared<model::Audio>();
    audio->rate = file.rate();
    audio->channels = channels;
    audio->frames = file.frames();
    const std::int64_t held = most > 0   ? std::min(most_frames, most)
                              : streamed ? std::min<std::int64_t>(file.frames(), head_seconds * file.rate())
                                         : most_frames;
    if (narrow) {
        std::vector<float> wide;
        audio->narrow = read_planar<std::int16_t>(
            file.channels(), file.frames(), held, {}, [&](std::int16_t* into, std::int64_t count) {
                wide.resize(static_cast<std::size_t>(count * file.channels()));
                const std::int64_t got = file.read(wide.data(), count);
                for (std::size_t i = 0; i < static_cast<std::size_t>(got * file.channels()); ++i)
                    into[i] = static_cast<std::int16_t>(wide[i] * 32768.0f); // exact: these are whole numbers
                return got;
            });
    } else {
        audio->wide = read_planar<float>(file.channels(), file.frames(), held, fold,
                                         [&](float* into, std::int64_t count) { return file.read(into, count); });
    }
    if (streamed) audio->stream = std::make_shared<AvStream>(access, name, fold);
    return accept(std::move(decoded), std::move(audio), file.frames(), most, most_frames);
}

} // namespace kiai::runtime
