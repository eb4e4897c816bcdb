#include "engine/lap.h"

#include "dsp/math.h"

#include <algorithm>

namespace kiai::engine {

namespace {

/// Planar frames of a clip, out of memory or out of its file.
std::vector<float> frames_of(const model::Audio& audio, std::int64_t from, std::int64_t count) {
    std::vector<float> out(static_cast<std::size_t>(count * audio.channels));
    if (from + count <= audio.held) {
        for (int channel = 0; channel < audio.channels; ++channel)
            for (std::int64_t i = 0; i < count; ++i)
                out[static_cast<std::size_t>(channel * count + i)] = audio.at(channel, from + i);
    } else if (const auto reader = audio.stream ? audio.stream->open() : nullptr) {
        reader->read(from, count, out.data(), audio.channels == 2 ? out.data() + count : nullptr);
    }
    return out;
}

} // namespace

Lap::Lap(const model::Audio& audio, const model::Loop& loop) : frames(audio.frames), end(audio.frames) {
    loops = loop.on;
    if (!loop.on) return;
    tail = loop.tail;
    turns = loop.count > 0 ? loop.count : endless;
    if (loop.points && !audio.loops.empty()) {
        begin = audio.loops.front().begin;
        end = audio.loops.front().end;
    } else if (!loop.points) {
        begin = loop.from.frames(audio.rate);
        if (loop.to.value > 0) end = loop.to.frames(audio.rate);
    }
    end = std::clamp<std::int64_t>(end, 1, frames);
    begin = std::clamp<std::int64_t>(begin, 0, end - 1);
    seam = std::min(loop.seam.frames(audio.rate), (end - begin) / 2);
    begin = std::max(begin, seam); // what is mixed in has to stand before it
    if (seam == 0) return;
    seamed = frames_of(audio, end - seam, seam);
    const std::vector<float> before = frames_of(audio, begin - seam, seam);
    for (int channel = 0; channel < audio.channels; ++channel)
        for (std::int64_t i = 0; i < seam; ++i) {
            const auto out = static_cast<float>(dsp::fall(static_cast<double>(i + 1) / static_cast<double>(seam + 1)));
            const auto at = static_cast<std::size_t>(channel * seam + i);
            seamed[at] = seamed[at] * out + before[at] * (1 - out);
        }
}

} // namespace kiai::engine
