// An open AAC or Apple Lossless file, decoded by FFmpeg's libraries.
#pragma once

#include "runtime/audio/av_library.h"
#include "runtime/audio/file_access.h"

#include <memory>
#include <string>
#include <vector>

namespace kiai::runtime {

/// Gives the frames that the container says are to be heard: without what the encoder added before and after.
/// One thread at a time.
class AvFile {
  public:
    /// Opens the first audio stream. Test `open()` afterwards.
    AvFile(FileAccess access, std::string file);
    ~AvFile();
    AvFile(const AvFile&) = delete;
    AvFile& operator=(const AvFile&) = delete;

    bool open() const noexcept { return decoder_ != nullptr; }
    int rate() const noexcept { return decoder_->sample_rate; }
    int channels() const noexcept { return decoder_->ch_layout.nb_channels; }
    /// Returns libsndfile's SF_CHANNEL_MAP_ value of each channel; empty: not stated.
    std::vector<int> places() const;
    const char* format() const noexcept { return mp4_ ? "M4A" : "AAC"; }
    std::string coding() const;
    int bits() const noexcept; ///< 16 to 32 for Apple Lossless; 0: a lossy coding
    /// Returns the length that the container states; 0: it states none.
    std::int64_t frames() const noexcept { return frames_; }

    /// Reads interleaved frames; returns how many, 0 at the end.
    std::int64_t read(float* interleaved, std::int64_t frames);
    /// Continues at a frame. Returns false if the file ends before.
    bool seek(std::int64_t frame);

  private:
    struct Bytes;
    void open_file();
    void close_file() noexcept;
    bool decode_next();
    void convert(const AVFrame& frame);
    bool pass(std::int64_t frames);

    const AvLibrary* av_;
    FileAccess access_;
    std::string file_;
    std::unique_ptr<Bytes> bytes_;
    AVFormatContext* input_ = nullptr;
    AVIOContext* io_ = nullptr;
    AVCodecContext* decoder_ = nullptr;
    AVPacket* packet_ = nullptr;
    AVFrame* frame_ = nullptr;
    int stream_ = -1;
    bool mp4_ = false;                    ///< an MP4 container; otherwise ADTS
    bool exact_ = false;                  ///< its times count frames, so that it can be sought
    bool draining_ = false;               ///< the file has ended, the decoder may still hold frames
    std::int64_t frames_ = 0;             ///< as stated
    std::int64_t first_ = AV_NOPTS_VALUE; ///< the time of the first frame that is heard
    std::int64_t at_ = 0;                 ///< the next frame that `read` gives
    std::vector<float> decoded_;          ///< interleaved, from `taken_` on
    std::size_t taken_ = 0;
};

} // namespace kiai::runtime
