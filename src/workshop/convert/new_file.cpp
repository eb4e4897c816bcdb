#include "workshop/convert/new_file.h"

#include "core/dsp/kernels.h"
#include "core/dsp/math.h"
#include "core/dsp/resampler.h"
#include "runtime/audio/audio_reader.h"
#include "workshop/disk/dither.h"
#include "workshop/facts/measure.h"
#include "workshop/ship/encode.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>

namespace kiai::workshop {
namespace {

constexpr double most_true_peak = -1; ///< dBTP

/// Bytes in memory as a file.
class Bytes : public FileReader {
  public:
    explicit Bytes(const std::string& bytes) : bytes_(bytes) {}
    std::int64_t size() override { return static_cast<std::int64_t>(bytes_.size()); }
    std::int64_t read(std::int64_t from, std::span<std::byte> into) override {
        const std::int64_t count = std::clamp<std::int64_t>(size() - from, 0, static_cast<std::int64_t>(into.size()));
        std::memcpy(into.data(), bytes_.data() + from, static_cast<std::size_t>(count));
        return count;
    }

  private:
    const std::string& bytes_;
};

/// Returns a rate that the format allows: the same, or 48 kHz.
int rate_for(AudioFormat format, int rate) {
    constexpr std::array opus{8000, 12000, 16000, 24000, 48000};
    constexpr std::array mp3{8000, 11025, 12000, 16000, 22050, 24000, 32000, 44100, 48000};
    const auto allows = [&](const auto& rates) { return std::find(rates.begin(), rates.end(), rate) != rates.end(); };
    if (format == AudioFormat::opus && !allows(opus)) return 48000;
    if (format == AudioFormat::mp3 && !allows(mp3)) return 48000;
    return rate;
}

class Maker {
  public:
    Maker(const model::Audio& audio, const Facts& facts, AudioFormat format, const ConvertOptions& options)
        : given_(audio), facts_(facts), format_(format), options_(options) {
        for (int channel = 0; channel < audio.channels; ++channel) channels_.push_back(channel_of(audio, channel));
    }

    NewFile run() {
        if (options_.trim) trim();
        level();
        model::Audio made;
        made.channels = given_.channels;
        made.rate = resample();
        if (!made_.error.empty()) return std::move(made_);
        made.frames = made.held = static_cast<std::int64_t>(channels_.front().size());
        const bool narrow = bits() == 16 && (format_ == AudioFormat::wav || format_ == AudioFormat::flac);
        for (const auto& channel : channels_) append(made, channel, narrow);
        Encoded encoded = encode(made, encoding(), options_.quality);
        if (!encoded.error.empty()) {
            made_.error = encoded.error;
            return std::move(made_);
        }
        made_.bytes = std::move(encoded.bytes);
        compare();
        return std::move(made_);
    }

  private:
    int bits() const { return options_.bits > 0 ? options_.bits : given_.wide.empty() ? 16 : 24; }

    Encoding encoding() const {
        switch (format_) {
        case AudioFormat::flac:
            return Encoding::flac;
        case AudioFormat::ogg:
            return Encoding::ogg;
        case AudioFormat::opus:
            return Encoding::opus;
        case AudioFormat::mp3:
            return Encoding::mp3;
        default:
            return Encoding::wav;
        }
    }

    /// Removes silence, and fades what is kept of it. The start keeps 2 ms at most, because it delays the sound.
    void trim() {
        if (facts_.lead >= facts_.frames) return; // all of it is silent
        const auto fade = static_cast<Frames>(std::clamp(options_.fade.count(), 0.0, 1.0) * given_.rate);
        const Frames before = std::min(facts_.lead, std::min<Frames>(fade, given_.rate / 500)),
                     after = std::min(facts_.trail, fade);
        made_.cut_start = facts_.lead - before;
        made_.cut_end = facts_.trail - after;
        for (auto& channel : channels_) {
            channel.erase(channel.end() - made_.cut_end, channel.end());
            channel.erase(channel.begin(), channel.begin() + made_.cut_start);
            const std::size_t size = channel.size();
            for (Frames i = 0; made_.cut_start > 0 && i < before; ++i)
                channel[static_cast<std::size_t>(i)] *=
                    static_cast<float>(1 - dsp::fall((static_cast<double>(i) + 0.5) / static_cast<double>(before)));
            for (Frames i = 0; made_.cut_end > 0 && i < after; ++i)
                channel[size - static_cast<std::size_t>(after - i)] *=
                    static_cast<float>(dsp::fall((static_cast<double>(i) + 0.5) / static_cast<double>(after)));
        }
    }

    Facts measured(const std::vector<std::vector<float>>& channels, int rate) const {
        model::Audio audio;
        audio.rate = rate;
        audio.channels = static_cast<int>(channels.size());
        audio.frames = audio.held = static_cast<std::int64_t>(channels.front().size());
        for (const auto& channel : channels) audio.wide.insert(audio.wide.end(), channel.begin(), channel.end());
        Facts facts;
        facts.frames = facts.measured = audio.frames;
        facts.rate = rate;
        measure(audio, facts);
        return facts;
    }

    void level() {
        if (!options_.peak && !options_.loudness) return;
        const Facts now = measured(channels_, given_.rate);
        if (now.peak <= Facts::silent) return;
        double gain = options_.peak ? *options_.peak - now.peak : *options_.loudness - now.loudness;
        if (options_.loudness && now.true_peak + gain > most_true_peak) {
            gain = most_true_peak - now.true_peak;
            made_.remark = fmt::format("{:.1f} LUFS, because of the true peak of {:.0f} dBTP", now.loudness + gain,
                                       most_true_peak);
        }
        made_.gain = static_cast<Decibels>(gain);
        const auto factor = static_cast<float>(dsp::db_to_gain(gain));
        for (auto& channel : channels_)
            for (float& sample : channel) sample *= factor;
    }

    /// Converts to a rate that the format allows, and returns it.
    int resample() {
        const int rate = rate_for(format_, given_.rate);
        if (rate == given_.rate) return rate;
        if (!dsp::Resampler::can(given_.rate, rate)) {
            made_.error = fmt::format("this format does not allow {} Hz", given_.rate);
            return rate;
        }
        const dsp::Resampler resampler(given_.rate, rate, dsp::portable_kernels());
        for (auto& channel : channels_) {
            std::vector<float> converted;
            resampler.append(channel, converted);
            channel = std::move(converted);
        }
        return rate;
    }

    void append(model::Audio& made, const std::vector<float>& channel, bool narrow) const {
        if (!narrow) {
            made.wide.insert(made.wide.end(), channel.begin(), channel.end());
            return;
        }
        // Only a sample that is no whole number needs dither, so that unchanged parts stay as they are.
        const std::vector<int> rounded = dithered(channel, 16);
        for (std::size_t i = 0; i < channel.size(); ++i) {
            const float step = channel[i] * 32768;
            const bool whole = step == std::round(step) && step < 32768 && step >= -32768;
            made.narrow.push_back(static_cast<std::int16_t>(whole ? std::lrint(step) : rounded[i] >> 16));
        }
    }

    /// Reads the new file back: its facts, and what differs from the samples that were meant.
    void compare() {
        const runtime::FileAccess access({},
                                         [this](const std::string&) { return std::make_unique<Bytes>(made_.bytes); });
        const reader::Decoded decoded = runtime::decode(access, "converted", reader::Stream::no);
        if (!decoded.ok()) {
            made_.error = "the new file cannot be read back: " + decoded.message;
            return;
        }
        made_.after = decoded.facts;
        made_.after.bytes = made_.bytes.size();
        measure(*decoded.audio, made_.after);
        double sum = 0;
        const std::int64_t frames =
            std::min(decoded.audio->frames, static_cast<std::int64_t>(channels_.front().size()));
        for (int channel = 0; channel < given_.channels; ++channel)
            for (std::int64_t frame = 0; frame < frames; ++frame) {
                const double difference =
                    static_cast<double>(decoded.audio->at(channel, frame)) -
                    static_cast<double>(channels_[static_cast<std::size_t>(channel)][static_cast<std::size_t>(frame)]);
                sum += difference * difference;
            }
        const double mean = frames > 0 ? std::sqrt(sum / static_cast<double>(frames * given_.channels)) : 0;
        made_.residue =
            mean > 0 ? std::max(Facts::silent, static_cast<Decibels>(20 * std::log10(mean))) : Facts::silent;
    }

    const model::Audio& given_;
    const Facts& facts_;
    AudioFormat format_;
    const ConvertOptions& options_;
    std::vector<std::vector<float>> channels_;
    NewFile made_;
};

} // namespace

NewFile make_file(const model::Audio& audio, const Facts& facts, AudioFormat format, const ConvertOptions& options) {
    return Maker(audio, facts, format, options).run();
}

} // namespace kiai::workshop
