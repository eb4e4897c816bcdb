// The sound of pitched playback, measured on rendered output.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <string>

using namespace support;

namespace {

/// One play of `clip` at a pitch; the left side.
Signal pitched(const kiai::Project& project, double semitones) {
    kiai::HearSettings settings;
    settings.options.pitch = static_cast<float>(semitones);
    return side(kiai::hear(project, "tone", settings).samples, 0);
}

/// What of a sine was let through, in dB of its level; measured away from the clip's ends.
double passed(const Signal& out, double level) {
    return db(rms(out, 300, out.size() - 300) / level);
}

constexpr double half = 0.501187; // -6 dBFS

} // namespace

TEST_CASE("997 Hz at every semitone of four octaves has no more than its sine", "[quality]") {
    const kiai::Project project = project_of(sine(997, half, 48000));
    for (int semitones = -24; semitones <= 24; ++semitones) {
        const Signal out = pitched(project, semitones);
        const Fit fit = fit_sine(out, 997 * std::exp2(semitones / 12.0), 200, out.size() - 200);
        INFO(semitones << " semitones: " << fit.snr_db() << " dB");
        CHECK(fit.snr_db() >= (std::abs(semitones) <= 12 ? 100 : 96));
        CHECK(std::abs(db(fit.amplitude / half)) < 0.1);
    }
}

TEST_CASE("10 kHz at every semitone up to +10 has no more than its sine", "[quality]") {
    const kiai::Project project = project_of(sine(10000, half, 48000));
    for (int semitones = -24; semitones <= 10; ++semitones) {
        const Signal out = pitched(project, semitones);
        const Fit fit = fit_sine(out, 10000 * std::exp2(semitones / 12.0), 200, out.size() - 200);
        INFO(semitones << " semitones: " << fit.snr_db() << " dB");
        CHECK(fit.snr_db() >= (std::abs(semitones) <= 12 ? 100 : 96));
    }
}

TEST_CASE("A sine that would land above half the rate is not heard", "[quality]") {
    for (int semitones = 1; semitones <= 24; ++semitones) {
        const double edge = 24000 / std::exp2(semitones / 12.0);
        for (const double frequency : {edge * 1.001, edge * 1.1, (edge + 24000) / 2, 23500.0}) {
            if (frequency < edge * 1.0005 || frequency > 23900) continue;
            const Signal out = pitched(project_of(sine(frequency, half, 24000)), semitones);
            INFO(semitones << " semitones, " << frequency << " Hz");
            CHECK(passed(out, half / std::sqrt(2.0)) <= -96);
        }
    }
}

TEST_CASE("Noise that would land above half the rate is not heard", "[quality]") {
    for (const int semitones : {3, 7, 12, 19, 24}) {
        // A sum of many sines of random phase above the edge: noise with nothing at all below it.
        const double edge = 24000 / std::exp2(semitones / 12.0);
        Signal input(24000, 0.0f);
        for (int i = 0; i < 60; ++i) {
            const Signal one =
                sine(edge * 1.001 + (23900 - edge * 1.001) * i / 60.0, 0.008, input.size(), 48000, i * 0.6180339887);
            for (std::size_t n = 0; n < input.size(); ++n) input[n] += one[n];
        }
        const Signal out = pitched(project_of(input), semitones);
        INFO(semitones << " semitones");
        CHECK(passed(out, rms(input, 0, input.size())) <= -96);
    }
}

TEST_CASE("The pass band reaches 18 kHz", "[quality]") {
    for (const double semitones : {-24.0, -12.0, -7.0, -1.0, 0.37, 1.0, 4.0, 5.21, 7.0, 11.6, 12.0}) {
        const double ratio = std::exp2(semitones / 12),
                     most = 18000 / std::max(1.0, ratio); // of the clip, or of the output
        for (const double part : {0.02, 0.3, 0.6, 0.85, 0.95, 1.0}) {
            const double frequency = most * part;
            const Signal out = pitched(project_of(sine(frequency, half, 24000)), semitones);
            const Fit fit = fit_sine(out, frequency * ratio, 300, out.size() - 300);
            INFO(semitones << " semitones, " << frequency << " Hz: " << db(fit.amplitude / half) << " dB");
            CHECK(std::abs(db(fit.amplitude / half)) <= 0.1);
        }
    }
}

TEST_CASE("A clip of another rate sounds at its own pitch and length", "[quality]") {
    for (const int rate : {8000, 11025, 22050, 44100, 96000}) {
        const kiai::Project project = project_of(sine(997, half, static_cast<std::size_t>(rate), rate), {}, rate);
        const Signal out = pitched(project, 0);
        const Fit fit = fit_sine(out, 997, 800, out.size() - 800);
        INFO(rate << ": " << fit.snr_db() << " dB");
        CHECK(fit.snr_db() >= 96);
        CHECK(std::abs(static_cast<double>(out.size()) - 48000) <= 1);
    }
}

TEST_CASE("A 44.1 kHz clip keeps its level to 16 kHz at 48 kHz, and loses what docs/engine.md says above",
          "[quality]") {
    const auto level = [](double frequency) {
        const Signal out = pitched(project_of(sine(frequency, half, 44100, 44100), {}, 44100), 0);
        return db(fit_sine(out, frequency, 800, out.size() - 800).amplitude / half);
    };
    for (const double frequency : {1000.0, 10000.0, 15000.0, 16000.0}) {
        INFO(frequency);
        CHECK(std::abs(level(frequency)) <= 0.1);
    }
    CHECK(level(17500) == Approx(-0.7).margin(0.1));
    CHECK(level(18000) == Approx(-2.1).margin(0.1));
    CHECK(level(19000) == Approx(-8.1).margin(0.2));
}

TEST_CASE("Nothing asked for is nothing done: the copy is exact", "[quality]") {
    const Signal mono = noise(0.4, 5000, 1); // noise at -8 dBFS stays below -1 dBTP
    const Signal out_mono = side(kiai::hear(project_of(mono), "tone").samples, 0);
    CHECK(out_mono == mono);
    CHECK(side(kiai::hear(project_of(mono), "tone").samples, 1) == mono);

    Signal stereo;
    const Signal other = noise(0.4, 5000, 2);
    for (std::size_t i = 0; i < mono.size(); ++i) stereo.insert(stereo.end(), {mono[i], other[i]});
    CHECK(kiai::hear(project_of(stereo, {}, 48000, 2), "tone").samples == stereo);
}
