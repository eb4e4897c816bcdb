#include "runtime/project/pack_stream.h"

#include <algorithm>
#include <array>
#include <cstring>

namespace kiai::runtime {
namespace {

class PackReading : public model::FrameReader {
  public:
    PackReading(std::shared_ptr<const FileBytes> file, const PackClip& clip)
        : blob_(std::move(file), clip.blob), narrow_(clip.narrow), channels_(static_cast<std::size_t>(clip.channels)) {}

    std::int64_t read(std::int64_t from, std::int64_t frames, float* left, float* right) override {
        return narrow_ ? read_as<std::int16_t>(from, frames, left, right) : read_as<float>(from, frames, left, right);
    }

  private:
    template<class Sample>
    std::int64_t read_as(std::int64_t from, std::int64_t frames, float* left, float* right) {
        const std::size_t frame = channels_ * sizeof(Sample);
        const auto step = static_cast<std::int64_t>(buffer_.size() / frame);
        std::int64_t done = 0;
        while (done < frames) {
            const auto bytes = static_cast<std::size_t>(std::min(step, frames - done)) * frame;
            const std::int64_t read =
                blob_.read((from + done) * static_cast<std::int64_t>(frame), std::span(buffer_).first(bytes));
            const std::int64_t got = read / static_cast<std::int64_t>(frame);
            if (got <= 0) break;
            for (std::int64_t i = 0; i < got; ++i) {
                left[done + i] = sample<Sample>(static_cast<std::size_t>(i) * channels_);
                if (right) right[done + i] = sample<Sample>(static_cast<std::size_t>(i) * channels_ + channels_ - 1);
            }
            done += got;
        }
        return done;
    }
    template<class Sample>
    float sample(std::size_t index) const noexcept {
        Sample value{};
        std::memcpy(&value, buffer_.data() + index * sizeof(Sample), sizeof(Sample));
        return std::is_same_v<Sample, float> ? static_cast<float>(value) : static_cast<float>(value) / 32768.0f;
    }

    BlobReader blob_;
    bool narrow_;
    std::size_t channels_;
    std::array<std::byte, 1 << 15> buffer_;
};

} // namespace

std::unique_ptr<model::FrameReader> PackStream::open() const {
    return std::make_unique<PackReading>(file_, clip_);
}

} // namespace kiai::runtime
