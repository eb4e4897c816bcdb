#include "runtime/audio/stream_file.h"

#include "runtime/audio/audio_file.h"

#include <algorithm>
#include <cmath>

namespace kiai::runtime {
namespace {

class Reading : public model::FrameReader {
  public:
    Reading(const FileAccess& access, const std::string& file, std::vector<FoldGain> fold, bool narrow,
            std::int64_t skip)
        : file_(access, file), fold_(std::move(fold)), narrow_(narrow), skip_(skip) {}
    bool open() const noexcept { return file_.get() != nullptr; }

    std::int64_t read(std::int64_t from, std::int64_t frames, float* left, float* right) override {
        const std::int64_t skip = std::max<std::int64_t>(skip_, 0), ahead = from - at_;
        // A decoder of MP3 that starts in the middle of a file is not exact, so a little more is read first and
        // dropped.
        const bool read_over = skip_ >= 0 && ahead > 0 && ahead <= longest_skip;
        if (at_ == -skip && skip > 0 && !pass(skip)) return 0;
        if (read_over && !pass(from - std::max<std::int64_t>(at_, 0))) return 0;
        if (!read_over && from != std::max<std::int64_t>(at_, 0) &&
            sf_seek(file_.get(), from + skip, SEEK_SET) != from + skip)
            return 0;
        at_ = from;
        std::int64_t done = 0;
        while (done < frames) {
            const std::int64_t got = read_block(std::min<std::int64_t>(frames - done, block));
            if (got <= 0) break;
            split(got, left + done, right ? right + done : nullptr);
            done += got;
        }
        at_ += done;
        return done;
    }

  private:
    static constexpr std::int64_t block = 4096, longest_skip = 1 << 20;

    /// Skips frames; returns false if the file ends before.
    bool pass(std::int64_t frames) {
        while (frames > 0) {
            const std::int64_t got = read_block(std::min(frames, block));
            if (got <= 0) return false;
            frames -= got;
        }
        return true;
    }

    std::int64_t read_block(std::int64_t frames) {
        const auto channels = static_cast<std::size_t>(file_.info().channels);
        all_.resize(static_cast<std::size_t>(block) * channels);
        if (!narrow_) return sf_readf_float(file_.get(), all_.data(), frames);
        short_.resize(all_.size());
        const sf_count_t got = sf_readf_short(file_.get(), short_.data(), frames);
        for (std::size_t i = 0; i < static_cast<std::size_t>(std::max<sf_count_t>(0, got)) * channels; ++i)
            all_[i] = static_cast<float>(short_[i]) / 32768.0f;
        return got;
    }
    void split(std::int64_t frames, float* left, float* right) const {
        const auto channels = static_cast<std::size_t>(file_.info().channels);
        for (std::int64_t i = 0; i < frames; ++i) {
            const float* in = all_.data() + static_cast<std::size_t>(i) * channels;
            float l = in[0], r = in[channels - 1];
            if (!fold_.empty()) {
                l = r = 0;
                for (std::size_t c = 0; c < channels; ++c) l += fold_[c].left * in[c], r += fold_[c].right * in[c];
            }
            left[i] = std::isfinite(l) ? l : 0; // these samples were not checked before
            if (right) right[i] = std::isfinite(r) ? r : 0;
        }
    }

    AudioFile file_;
    std::vector<FoldGain> fold_;
    bool narrow_;
    std::int64_t skip_; ///< of an MP3: frames that its encoder has added; -1: it is none
    std::int64_t at_ = -std::max<std::int64_t>(skip_, 0); ///< the next frame; below 0: what was added comes first
    std::vector<float> all_;
    std::vector<std::int16_t> short_;
};

} // namespace

std::unique_ptr<model::FrameReader> StreamFile::open() const {
    auto reading = std::make_unique<Reading>(access_, file_, fold_, narrow_, skip_);
    return reading->open() ? std::move(reading) : nullptr;
}

} // namespace kiai::runtime
