// Reads interleaved frames into planar memory, mixed to stereo if there are more channels.
#pragma once

#include "runtime/audio/fold.h"

#include <algorithm>
#include <cstdint>
#include <type_traits>
#include <vector>

namespace kiai::runtime {

/// Frames of one or two sides in one vector: room for all of the left side, then for all of the right one.
template<class Sample>
class Planar {
  public:
    Planar(std::size_t sides, std::size_t room) : sides_(sides), room_(room), samples_(sides * room) {}

    std::size_t held() const noexcept { return held_; }
    std::size_t free() const noexcept { return room_ - held_; }
    /// Returns the place of the next frame of a side.
    Sample* next(std::size_t side) noexcept { return samples_.data() + side * room_ + held_; }
    void add(std::size_t frames) noexcept { held_ += frames; }

    void make_room(std::size_t frames) {
        if (frames <= free()) return;
        const std::size_t room = std::max(2 * room_, held_ + frames);
        samples_.resize(sides_ * room);
        const auto begin = samples_.begin();
        if (sides_ == 2) std::move_backward(at(begin, room_), at(begin, room_ + held_), at(begin, room + held_));
        room_ = room;
    }
    std::vector<Sample> finish() {
        const auto begin = samples_.begin();
        if (sides_ == 2 && free() > 0) std::move(at(begin, room_), at(begin, room_ + held_), at(begin, held_));
        samples_.resize(sides_ * held_);
        samples_.shrink_to_fit();
        return std::move(samples_);
    }

  private:
    using Place = typename std::vector<Sample>::iterator;
    static Place at(Place begin, std::size_t index) { return begin + static_cast<std::ptrdiff_t>(index); }

    std::size_t sides_, room_, held_ = 0;
    std::vector<Sample> samples_;
};

/// Reads until the file ends, or `most_frames`. `guess`: the length in the header, only a first guess of the size,
/// because it may be wrong. `read(Sample* interleaved, frames)` returns how many it gave; 0 at the end.
template<class Sample, class Read>
std::vector<Sample> read_planar(int channels, std::int64_t guess, std::int64_t most_frames,
                                const std::vector<FoldGain>& fold, Read&& read) {
    constexpr std::size_t chunk = 1 << 13;
    constexpr std::int64_t most_believed = 1 << 22; // of what a header claims, before it was seen
    const auto most = static_cast<std::size_t>(most_frames), of_frame = static_cast<std::size_t>(channels);
    Planar<Sample> planar(channels > 1 ? 2 : 1, static_cast<std::size_t>(std::clamp<std::int64_t>(
                                                    guess, 0, std::min(most_frames, most_believed))));
    std::vector<Sample> buffer(chunk * of_frame);
    while (planar.held() < most) {
        const bool fits = planar.free() > 0;
        const std::size_t ask = std::min({chunk, most - planar.held(), fits ? planar.free() : chunk});
        const bool straight = channels == 1 && fits;
        const std::int64_t got = read(straight ? planar.next(0) : buffer.data(), static_cast<std::int64_t>(ask));
        if (got <= 0) break;
        const auto frames = static_cast<std::size_t>(got);
        planar.make_room(frames);
        const Sample* in = buffer.data();
        Sample* const left = planar.next(0);
        if (channels == 1) {
            if (!straight) std::copy_n(in, frames, left);
        } else {
            Sample* const right = planar.next(1);
            for (std::size_t i = 0; i < frames; ++i, in += of_frame) {
                if constexpr (std::is_same_v<Sample, float>) {
                    if (!fold.empty()) {
                        float sum_left = 0, sum_right = 0;
                        for (std::size_t c = 0; c < fold.size(); ++c)
                            sum_left += fold[c].left * in[c], sum_right += fold[c].right * in[c];
                        left[i] = sum_left, right[i] = sum_right;
                        continue;
                    }
                }
                left[i] = in[0], right[i] = in[1];
            }
        }
        planar.add(frames);
    }
    return planar.finish();
}

} // namespace kiai::runtime
