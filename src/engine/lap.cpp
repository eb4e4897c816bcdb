#include "engine/lap.h"

#include "dsp/math.h"

#include <algorithm>

namespace kiai::engine {

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
    seamed.resize(static_cast<std::size_t>(seam * audio.channels));
    for (int channel = 0; channel < audio.channels; ++channel)
        for (std::int64_t i = 0; i < seam; ++i) {
            const auto out = static_cast<float>(dsp::fall(static_cast<double>(i + 1) / static_cast<double>(seam + 1)));
            seamed[static_cast<std::size_t>(channel * seam + i)] =
                audio.sample(channel, end - seam + i) * out + audio.sample(channel, begin - seam + i) * (1 - out);
        }
}

} // namespace kiai::engine
