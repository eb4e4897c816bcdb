// Reads interleaved frames into planar memory, mixed to stereo if there are more channels.
#pragma once

#include "runtime/audio/fold.h"

#include <algorithm>
#include <cstdint>
#include <type_traits>
#include <vector>

namespace kiai::runtime {

/// Reads until the file ends, or `most_frames`. `guess`: the length in the header, only a first guess of the size,
/// because it may be wrong. `read(Sample* interleaved, frames)` returns how many it gave; 0 at the end.
template<class Sample, class Read>
std::vector<Sample> read_planar(int channels, std::int64_t guess, std::int64_t most_frames,
                                const std::vector<FoldGain>& fold, Read&& read) {
    constexpr std::int64_t chunk = 1 << 13;
    constexpr std::int64_t most_believed = 1 << 24; // of what a header claims, before it was seen
    const bool stereo = channels > 1;
    std::vector<Sample> buffer(static_cast<std::size_t>(chunk * channels)), left, right;
    const auto first =
        static_cast<std::size_t>(std::clamp<std::int64_t>(guess, 0, std::min(most_frames, most_believed)));
    left.reserve(stereo ? 2 * first : first);
    if (stereo) right.reserve(first);
    while (static_cast<std::int64_t>(left.size()) < most_frames) {
        const std::int64_t ask = std::min<std::int64_t>(chunk, most_frames - static_cast<std::int64_t>(left.size()));
        const std::int64_t frames = read(buffer.data(), ask);
        if (frames <= 0) break;
        if (!stereo) {
            left.insert(left.end(), buffer.begin(), buffer.begin() + frames);
            continue;
        }
        const std::size_t count = static_cast<std::size_t>(frames), had = left.size();
        left.resize(had + count), right.resize(had + count);
        for (std::size_t i = 0; i < count; ++i) {
            const Sample* in = buffer.data() + i * static_cast<std::size_t>(channels);
            if constexpr (std::is_same_v<Sample, float>) {
                if (!fold.empty()) {
                    float sum_left = 0, sum_right = 0;
                    for (std::size_t c = 0; c < fold.size(); ++c)
                        sum_left += fold[c].left * in[c], sum_right += fold[c].right * in[c];
                    left[had + i] = sum_left, right[had + i] = sum_right;
                    continue;
                }
            }
            left[had + i] = in[0], right[had + i] = in[1];
        }
    }
    left.insert(left.end(), right.begin(), right.end());
    left.shrink_to_fit();
    return left;
}

} // namespace kiai::runtime
