#include "core/mixer/lap.h"

#include "core/dsp/math.h"

#include <algorithm>
#include <cmath>

namespace kiai::mixer {

namespace {

/// Returns planar frames of a clip, from memory or from its file.
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

/// Returns the similarity of two stretches: their normalised correlation, 1 if equal, 0 for noise. It is at least -0.5,
/// because below that hardly anything is left of their sum.
double likeness(const std::vector<float>& a, const std::vector<float>& b) {
    double both = 0, of_a = 0, of_b = 0;
    for (std::size_t i = 0; i < a.size(); ++i) {
        both += static_cast<double>(a[i]) * b[i];
        of_a += static_cast<double>(a[i]) * a[i];
        of_b += static_cast<double>(b[i]) * b[i];
    }
    const double all = std::sqrt(of_a * of_b);
    return all > 0 ? std::clamp(both / all, -0.5, 1.0) : 1;
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
    crossfade = std::min(loop.crossfade.frames(audio.rate), (end - begin) / 2);
    begin = std::max(begin, crossfade); // the crossfaded part must exist before it
    if (crossfade == 0) return;
    crossfaded = frames_of(audio, end - crossfade, crossfade);
    const std::vector<float> before = frames_of(audio, begin - crossfade, crossfade);
    // With gains a and b the power of the sum of two equally loud signals is a² + b² + 2rab. Dividing by its root keeps
    // the level: equal gain for like signals (r = 1), equal power for unlike ones (r = 0).
    const double r = likeness(crossfaded, before);
    for (std::int64_t i = 0; i < crossfade; ++i) {
        const double out = dsp::fall(static_cast<double>(i + 1) / static_cast<double>(crossfade + 1)), in = 1 - out;
        const double level = std::sqrt(out * out + in * in + 2 * r * out * in);
        for (int channel = 0; channel < audio.channels; ++channel) {
            const auto at = static_cast<std::size_t>(channel * crossfade + i);
            crossfaded[at] = static_cast<float>((crossfaded[at] * out + before[at] * in) / level);
        }
    }
}

} // namespace kiai::mixer
