#include "runtime/audio/av_file.h"

#include <sndfile.h>

#include <algorithm>
#include <cmath>
#include <cstring>

namespace kiai::runtime {
namespace {

constexpr int io_bytes = 1 << 15;
constexpr std::int64_t lead_in = 1 << 14; // decoded before a place that was sought: the decoder overlaps its packets
constexpr int longest_silence = 4096;     // packets in a row that give no frame, before the file counts as ended

/// In the order of the bits of a channel mask (libavutil/channel_layout.h).
constexpr int places_of_bits[] = {SF_CHANNEL_MAP_LEFT,
                                  SF_CHANNEL_MAP_RIGHT,
                                  SF_CHANNEL_MAP_CENTER,
                                  SF_CHANNEL_MAP_LFE,
                                  SF_CHANNEL_MAP_REAR_LEFT,
                                  SF_CHANNEL_MAP_REAR_RIGHT,
                                  SF_CHANNEL_MAP_FRONT_LEFT_OF_CENTER,
                                  SF_CHANNEL_MAP_FRONT_RIGHT_OF_CENTER,
                                  SF_CHANNEL_MAP_REAR_CENTER,
                                  SF_CHANNEL_MAP_SIDE_LEFT,
                                  SF_CHANNEL_MAP_SIDE_RIGHT};

bool is_mp4(const char* head) {
    return std::memcmp(head + 4, "ftyp", 4) == 0;
}

} // namespace

/// The callbacks through which the libraries read a file. They get no path, so that a file cannot name another one.
struct AvFile::Bytes {
    std::unique_ptr<std::istream> file;

    static int read(void* self, std::uint8_t* into, int count) {
        std::istream& file = *static_cast<Bytes*>(self)->file;
        file.clear();
        file.read(reinterpret_cast<char*>(into), count);
        return file.gcount() > 0 ? static_cast<int>(file.gcount()) : AVERROR_EOF;
    }
    static std::int64_t seek(void* self, std::int64_t by, int whence) {
        std::istream& file = *static_cast<Bytes*>(self)->file;
        file.clear();
        const std::int64_t now = file.tellg();
        const bool size = whence == AVSEEK_SIZE;
        const auto from = whence == SEEK_SET ? std::ios::beg : whence == SEEK_CUR ? std::ios::cur : std::ios::end;
        file.seekg(size ? 0 : by, from);
        const std::int64_t to = file ? static_cast<std::int64_t>(file.tellg()) : AVERROR(EINVAL);
        if (size) file.seekg(now, std::ios::beg);
        return to;
    }
};

AvFile::AvFile(FileAccess access, std::string file)
    : av_(av_library()), access_(std::move(access)), file_(std::move(file)) {
    if (av_) open_file();
}

AvFile::~AvFile() {
    close_file();
}

void AvFile::open_file() {
    bytes_ = std::make_unique<Bytes>();
    bytes_->file = access_.stream(file_);
    char head[8] = {};
    if (!bytes_->file || !bytes_->file->read(head, sizeof head)) return close_file();
    bytes_->file->seekg(0);
    mp4_ = is_mp4(head);

    packet_ = av_->packet_alloc();
    frame_ = av_->frame_alloc();
    input_ = av_->alloc_input();
    auto* const buffer = static_cast<unsigned char*>(av_->malloc(io_bytes));
    io_ = av_->alloc_io(buffer, io_bytes, 0, bytes_.get(), &Bytes::read, nullptr, &Bytes::seek);
    if (!packet_ || !frame_ || !input_ || !buffer || !io_) return close_file();
    input_->pb = io_;
    // Only these two containers, and nothing that a file could make the libraries guess.
    if (av_->open_input(&input_, nullptr, av_->find_input_format(mp4_ ? "mov" : "aac"), nullptr) != 0 ||
        av_->find_stream_info(input_, nullptr) < 0)
        return close_file();
    stream_ = av_->find_best_stream(input_, AVMEDIA_TYPE_AUDIO, -1, -1, nullptr, 0);
    if (stream_ < 0) return close_file();
    const AVStream& stream = *input_->streams[stream_];
    const AVCodecID coding = stream.codecpar->codec_id;
    const AVCodec* const codec = av_->find_decoder(coding);
    if ((coding != AV_CODEC_ID_AAC && coding != AV_CODEC_ID_ALAC) || !codec) return close_file();
    decoder_ = av_->alloc_decoder(codec);
    if (!decoder_ || av_->set_parameters(decoder_, stream.codecpar) < 0) return close_file();
    decoder_->thread_count = 1; // files are decoded side by side already
    decoder_->pkt_timebase = stream.time_base;
    if (av_->open_decoder(decoder_, codec, nullptr) < 0) return close_file();
    first_ = AV_NOPTS_VALUE, draining_ = false, at_ = 0;
    decoded_.clear(), taken_ = 0;
    if (!decode_next()) return close_file(); // only now the decoder is sure of rate and channels
    const AVRational unit = stream.time_base;
    exact_ = mp4_ && unit.num == 1 && unit.den == decoder_->sample_rate;
    frames_ = 0;
    if (mp4_ && stream.duration > 0 && unit.den > 0)
        frames_ = std::llround(static_cast<double>(stream.duration) * unit.num / unit.den * decoder_->sample_rate);
}

void AvFile::close_file() noexcept {
    if (!av_) return;
    av_->free_decoder(&decoder_);
    av_->close_input(&input_);
    if (io_) av_->freep(&io_->buffer);
    av_->free_io(&io_);
    av_->frame_free(&frame_);
    av_->packet_free(&packet_);
    bytes_ = nullptr;
}

std::vector<int> AvFile::places() const {
    std::vector<int> places;
    if (decoder_->ch_layout.order != AV_CHANNEL_ORDER_NATIVE) return places;
    for (std::size_t bit = 0; bit < std::size(places_of_bits); ++bit)
        if (decoder_->ch_layout.u.mask >> bit & 1) places.push_back(places_of_bits[bit]);
    if (places.size() != static_cast<std::size_t>(channels())) places.clear();
    return places;
}

int AvFile::bits() const noexcept {
    return decoder_->codec_id == AV_CODEC_ID_ALAC ? decoder_->bits_per_raw_sample : 0;
}

std::string AvFile::coding() const {
    if (decoder_->codec_id == AV_CODEC_ID_ALAC) return std::to_string(bits()) + "-bit ALAC";
    return decoder_->profile == FF_PROFILE_AAC_HE || decoder_->profile == FF_PROFILE_AAC_HE_V2 ? "HE-AAC" : "AAC";
}

/// Fills `decoded_` with the next frames; returns false at the end.
bool AvFile::decode_next() {
    decoded_.clear(), taken_ = 0;
    const int rate = decoder_->sample_rate, count = decoder_->ch_layout.nb_channels;
    for (int quiet = 0; quiet < longest_silence;) {
        const int got = av_->receive_frame(decoder_, frame_);
        if (got == 0) {
            // A file may change its rate or its channels in the middle. It counts as ended there.
            if (first_ != AV_NOPTS_VALUE && (frame_->sample_rate != rate || frame_->ch_layout.nb_channels != count))
                return false;
            if (first_ == AV_NOPTS_VALUE) first_ = frame_->pts == AV_NOPTS_VALUE ? 0 : frame_->pts;
            if (frame_->nb_samples <= 0) continue;
            convert(*frame_);
            return true;
        }
        if (got != AVERROR(EAGAIN) || draining_) return false;
        if (av_->read_packet(input_, packet_) < 0) {
            draining_ = true;
            av_->send_packet(decoder_, nullptr);
            continue;
        }
        if (packet_->stream_index == stream_) av_->send_packet(decoder_, packet_); // a damaged packet gives no frame
        av_->packet_unref(packet_);
        ++quiet;
    }
    return false;
}

template<class Sample>
static void interleave(const AVFrame& frame, bool planar, float scale, std::vector<float>& into) {
    const auto channels = static_cast<std::size_t>(frame.ch_layout.nb_channels);
    const auto frames = static_cast<std::size_t>(frame.nb_samples);
    into.resize(frames * channels);
    for (std::size_t c = 0; c < channels; ++c) {
        const auto* from = reinterpret_cast<const Sample*>(frame.extended_data[planar ? c : 0]) + (planar ? 0 : c);
        const std::size_t step = planar ? 1 : channels;
        for (std::size_t i = 0; i < frames; ++i) into[i * channels + c] = scale * static_cast<float>(from[i * step]);
    }
}

void AvFile::convert(const AVFrame& frame) {
    switch (frame.format) {
    case AV_SAMPLE_FMT_FLT:
    case AV_SAMPLE_FMT_FLTP:
        return interleave<float>(frame, frame.format == AV_SAMPLE_FMT_FLTP, 1, decoded_);
    case AV_SAMPLE_FMT_S16:
    case AV_SAMPLE_FMT_S16P:
        return interleave<std::int16_t>(frame, frame.format == AV_SAMPLE_FMT_S16P, 1.0f / 32768, decoded_);
    case AV_SAMPLE_FMT_S32:
    case AV_SAMPLE_FMT_S32P:
        return interleave<std::int32_t>(frame, frame.format == AV_SAMPLE_FMT_S32P, 1.0f / 2147483648.0f, decoded_);
    default: // no decoder of the two codings gives anything else
        decoded_.clear();
    }
}

std::int64_t AvFile::read(float* interleaved, std::int64_t frames) {
    if (frames_ > 0) frames = std::min(frames, frames_ - at_);
    const auto channels = static_cast<std::size_t>(this->channels());
    std::int64_t done = 0;
    while (done < frames) {
        if (taken_ == decoded_.size() && !decode_next()) break;
        const std::size_t some = std::min(decoded_.size() - taken_, static_cast<std::size_t>(frames - done) * channels);
        std::copy_n(decoded_.data() + taken_, some, interleaved + static_cast<std::size_t>(done) * channels);
        taken_ += some;
        done += static_cast<std::int64_t>(some / channels);
    }
    at_ += done;
    return done;
}

/// Skips frames.
bool AvFile::pass(std::int64_t frames) {
    constexpr std::int64_t block = 4096;
    std::vector<float> dropped(static_cast<std::size_t>(block * channels()));
    while (frames > 0) {
        const std::int64_t got = read(dropped.data(), std::min(frames, block));
        if (got <= 0) return false;
        frames -= got;
    }
    return true;
}

bool AvFile::seek(std::int64_t frame) {
    if (frame == at_) return true;
    const bool near = frame > at_ && frame - at_ <= 4 * lead_in;
    if (!near && exact_ && frame > lead_in) {
        const std::int64_t first = first_;
        if (av_->seek(input_, stream_, first + frame - lead_in, AVSEEK_FLAG_BACKWARD) >= 0) {
            av_->flush(decoder_);
            draining_ = false;
            if (!decode_next() || frame_->pts == AV_NOPTS_VALUE) return false;
            at_ = frame_->pts - first;
            if (at_ >= 0 && at_ <= frame) return pass(frame - at_);
        }
    }
    if (!near) {
        close_file();
        open_file();
        if (!open()) return false;
    }
    return pass(frame - at_);
}

} // namespace kiai::runtime
