#include "workshop/facts/measure.h"

#include <ebur128.h>

#include <algorithm>
#include <cmath>
#include <memory>
#include <vector>

namespace kiai::workshop {
namespace {

constexpr float full_scale = 32767.0f / 32768.0f;
constexpr int shortest_run = 3;
constexpr Frames most_measured = Frames{48000} * 600; // of one file: bounds time and memory

Decibels to_db(double linear) {
    return linear > 0 ? std::max(Facts::silent, static_cast<Decibels>(20 * std::log10(linear))) : Facts::silent;
}

struct Meter {
    explicit Meter(const model::Audio& audio) {
        state = ebur128_init(static_cast<unsigned>(audio.channels), static_cast<unsigned long>(audio.rate),
                             EBUR128_MODE_I | EBUR128_MODE_TRUE_PEAK);
        if (state && audio.channels == 1) ebur128_set_channel(state, 0, EBUR128_DUAL_MONO);
    }
    ~Meter() {
        if (state) ebur128_destroy(&state);
    }
    Meter(const Meter&) = delete;
    Meter& operator=(const Meter&) = delete;
    ebur128_state* state = nullptr;
};

void measure_loudness(const std::vector<std::vector<float>>& channels, const model::Audio& audio, Facts& facts) {
    Meter meter(audio);
    if (!meter.state) return;                                                         // a rate that it does not take
    const bool brief = audio.frames * 10 < static_cast<std::int64_t>(audio.rate) * 4; // 400 ms
    const auto count = static_cast<std::size_t>(audio.frames);
    std::vector<float> block;
    constexpr std::size_t step = 1 << 14;
    for (std::size_t from = 0; from < count; from += step) {
        const std::size_t frames = std::min(step, count - from);
        block.resize(frames * channels.size());
        for (std::size_t c = 0; c < channels.size(); ++c)
            for (std::size_t i = 0; i < frames; ++i) block[i * channels.size() + c] = channels[c][from + i];
        if (ebur128_add_frames_float(meter.state, block.data(), frames) != EBUR128_SUCCESS) return;
    }
    double loudness = -HUGE_VAL;
    if (brief) {
        const auto milliseconds =
            static_cast<unsigned long>(std::max<std::int64_t>(1, audio.frames * 1000 / audio.rate));
        ebur128_loudness_window(meter.state, milliseconds, &loudness);
    } else {
        ebur128_loudness_global(meter.state, &loudness);
    }
    facts.loudness = std::max(Facts::silent, static_cast<float>(loudness));
    double true_peak = 0;
    for (unsigned c = 0; c < channels.size(); ++c) {
        double one = 0;
        ebur128_true_peak(meter.state, c, &one);
        true_peak = std::max(true_peak, one);
    }
    facts.true_peak = std::max(to_db(true_peak), facts.peak); // it looks between the samples, never below them
}

void measure_silence(const std::vector<std::vector<float>>& channels, double peak, Facts& facts) {
    const auto audible = static_cast<float>(std::min(0.001, peak * 0.01));
    Frames first = facts.frames, last = -1;
    for (const auto& channel : channels) {
        const auto heard = [&](float sample) { return std::abs(sample) > audible; };
        const auto begin = std::find_if(channel.begin(), channel.end(), heard);
        if (begin == channel.end()) continue;
        const auto end = std::find_if(channel.rbegin(), channel.rend(), heard);
        first = std::min<Frames>(first, begin - channel.begin());
        last = std::max<Frames>(last, channel.rend() - end - 1);
    }
    facts.lead = first;
    facts.trail = last < 0 || facts.measured < facts.frames ? 0 : facts.frames - 1 - last;
}

/// Finds runs of samples at full scale, which natural sound does not contain. Calls run(begin, length) for each.
template<class Run>
void for_each_run(const std::vector<float>& channel, const Run& run) {
    Frames length = 0;
    for (std::size_t i = 0; i <= channel.size(); ++i) {
        const bool full =
            i < channel.size() && std::abs(channel[i]) >= full_scale && (length == 0 || channel[i] == channel[i - 1]);
        if (full) {
            ++length;
            continue;
        }
        if (length >= shortest_run) run(static_cast<Frames>(i) - length, length);
        length = i < channel.size() && std::abs(channel[i]) >= full_scale ? 1 : 0;
    }
}

void measure_clipping(const std::vector<std::vector<float>>& channels, Facts& facts) {
    for (const auto& channel : channels)
        for_each_run(channel, [&](Frames begin, Frames length) {
            facts.first_clipped = facts.clipped == 0 ? begin : std::min(facts.first_clipped, begin);
            ++facts.clipped;
            facts.longest_clipped = std::max(facts.longest_clipped, length);
        });
}

/// Returns true if a mean is a real offset and not the rest of a short noise: each part of the channel must have the
/// same sign.
bool is_offset(const std::vector<float>& channel, float mean) {
    constexpr std::size_t parts = 8;
    for (std::size_t p = 0; p < parts; ++p) {
        const std::size_t begin = channel.size() * p / parts, end = channel.size() * (p + 1) / parts;
        double sum = 0;
        float most = 0;
        for (std::size_t i = begin; i < end; ++i) sum += channel[i], most = std::max(most, std::abs(channel[i]));
        if (most < 0.001f) continue; // silence before or after
        if (end > begin && sum / static_cast<double>(end - begin) * mean < 0.25 * mean * mean) return false;
    }
    return true;
}

} // namespace

std::vector<float> channel_of(const model::Audio& audio, int channel) {
    std::vector<float> out(static_cast<std::size_t>(audio.frames));
    for (std::int64_t i = 0; i < audio.frames; ++i) out[static_cast<std::size_t>(i)] = audio.at(channel, i);
    return out;
}

std::vector<Frames> clipped_frames(const model::Audio& audio) {
    std::vector<Frames> frames;
    for (int channel = 0; channel < audio.channels; ++channel)
        for_each_run(channel_of(audio, channel), [&](Frames begin, Frames) { frames.push_back(begin); });
    std::sort(frames.begin(), frames.end());
    return frames;
}

Decibels measure_seam(const model::Audio& audio, LoopPoints loop) {
    const Frames length = loop.end - loop.begin, reach = std::min<Frames>(length / 2, audio.rate / 200);
    if (reach < 4) return Facts::silent;
    double worst = 0;
    for (int channel = 0; channel < audio.channels; ++channel) {
        const auto at = [&](Frames turn) { // 0 is the loop's first frame, -1 its last
            return static_cast<double>(audio.at(channel, turn < 0 ? loop.end + turn : loop.begin + turn));
        };
        const auto bend = [&](Frames middle) { return std::abs(at(middle + 1) - 2 * at(middle) + at(middle - 1)); };
        double own = 0; // how much it bends by itself, next to the seam
        for (Frames i = 1; i + 1 < reach; ++i) own = std::max({own, bend(i), bend(-1 - i)});
        worst = std::max(worst, std::max(bend(-1), bend(0)) - 1.5 * own);
    }
    return to_db(std::max(0.0, worst));
}

void measure(const model::Audio& audio, Facts& facts) {
    facts.measured = audio.frames;
    std::vector<std::vector<float>> channels;
    for (int channel = 0; channel < audio.channels; ++channel) channels.push_back(channel_of(audio, channel));
    double peak = 0;
    for (const auto& channel : channels) {
        double sum = 0;
        for (const float sample : channel) {
            peak = std::max(peak, static_cast<double>(std::abs(sample)));
            sum += sample;
        }
        const auto mean = static_cast<float>(sum / static_cast<double>(audio.frames));
        if (is_offset(channel, mean) && std::abs(mean) > std::abs(facts.offset)) facts.offset = mean;
    }
    facts.peak = to_db(peak);
    measure_loudness(channels, audio, facts);
    measure_silence(channels, peak, facts);
    measure_clipping(channels, facts);
    if (facts.measured == facts.frames) facts.seam = measure_seam(audio, {0, audio.frames});
    for (const LoopPoints& loop : facts.loops)
        facts.loop_seams.push_back(loop.end <= facts.measured ? measure_seam(audio, loop) : Facts::silent);
}

reader::Decoded decode_facts(const std::filesystem::path& file) {
    reader::Decoded decoded =
        runtime::decode({file.parent_path(), {}}, file.filename().string(), reader::Stream::no, most_measured);
    if (decoded.ok()) measure(*decoded.audio, decoded.facts);
    decoded.audio.reset();
    return decoded;
}

} // namespace kiai::workshop
