// The quality of pitched playback, measured on rendered output.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <complex>
#include <string>
#include <vector>

using namespace support;

namespace {

/// Returns the left side of one play of `clip` at a pitch.
Signal pitched(const kiai::Project& project, double semitones) {
    kiai::HearSettings settings;
    settings.options.pitch = static_cast<float>(semitones);
    return side(kiai::hear(project, "tone", settings).samples, 0);
}

/// Returns how much of a sine passed, in dB of its level, measured away from the clip's ends.
double passed(const Signal& out, double level) {
    return db(rms(out, 300, out.size() - 300) / level);
}

/// Returns the content below 20 kHz in dB of a sine of amplitude 1, by a discrete Fourier transform under a window
/// whose side lobes are below -120 dB (Nuttall 1981).
double below_20_khz(const Signal& out) {
    constexpr std::size_t count = 8192;
    REQUIRE(out.size() > count + 600);
    std::vector<std::complex<double>> bins(count);
    double power_of_window = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const double x = 2 * pi * static_cast<double>(i) / count;
        const double window =
            0.3635819 - 0.4891775 * std::cos(x) + 0.1365995 * std::cos(2 * x) - 0.0106411 * std::cos(3 * x);
        std::size_t reversed = 0;
        for (std::size_t bit = 1, mirrored = count / 2; bit < count; bit *= 2, mirrored /= 2)
            if (i & bit) reversed |= mirrored;
        bins[reversed] = window * static_cast<double>(out[300 + i]);
        power_of_window += window * window;
    }
    for (std::size_t size = 2; size <= count; size *= 2) // Cooley and Tukey 1965
        for (std::size_t begin = 0; begin < count; begin += size)
            for (std::size_t k = 0; k < size / 2; ++k) {
                const auto turned = std::polar(1.0, -2 * pi * static_cast<double>(k) / static_cast<double>(size)) *
                                    bins[begin + k + size / 2];
                bins[begin + k + size / 2] = bins[begin + k] - turned;
                bins[begin + k] += turned;
            }
    double power = 0;
    for (std::size_t bin = 4; bin < count * 199 / 480; ++bin) power += std::norm(bins[bin]);
    return 10 * std::log10(4 * power / (power_of_window * count) + 1e-30);
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

TEST_CASE("A sine that would land above half the rate leaves nothing below 20 kHz, and little above", "[quality]") {
    for (int semitones = 1; semitones <= 24; ++semitones) {
        const double ratio = std::exp2(semitones / 12.0), edge = 24000 / ratio, stop = 28000 / ratio;
        for (const double frequency :
             {edge * 1.002, (edge + stop) / 2, stop * 0.998, stop * 1.001, stop * 1.1, 23500.0}) {
            if (frequency < edge * 1.0005 || frequency > 23900) continue;
            const Signal out = pitched(project_of(sine(frequency, half, 48000)), semitones);
            INFO(semitones << " semitones, " << frequency << " Hz");
            CHECK(below_20_khz(out) - db(half) <= -100);
            CHECK(passed(out, half / std::sqrt(2.0)) <= -25);
        }
    }
}

TEST_CASE("Noise that would land above half the rate leaves nothing below 20 kHz", "[quality]") {
    for (const int semitones : {3, 7, 12, 19, 24}) {
        // A sum of many sines of random phase that would be at 28 kHz and above.
        const double edge = std::min(23000.0, 28000 / std::exp2(semitones / 12.0));
        Signal input(24000, 0.0f);
        for (int i = 0; i < 60; ++i) {
            const Signal one =
                sine(edge * 1.001 + (23900 - edge * 1.001) * i / 60.0, 0.008, input.size(), 48000, i * 0.6180339887);
            for (std::size_t n = 0; n < input.size(); ++n) input[n] += one[n];
        }
        const Signal out = pitched(project_of(input), semitones);
        INFO(semitones << " semitones");
        if (28000 / std::exp2(semitones / 12.0) < 23000) CHECK(passed(out, rms(input, 0, input.size())) <= -100);
    }
}

TEST_CASE("What a clip holds up to 20 kHz has no image in what is heard when it is pitched down", "[quality]") {
    for (const double semitones : {-0.5, -2.0, -3.0, -3.2, -5.0, -12.0, -24.0})
        for (const double frequency : {15000.0, 19900.0}) {
            const double ratio = std::exp2(semitones / 12);
            const Signal out = pitched(project_of(sine(frequency, half, 24000)), semitones);
            const Fit fit = fit_sine(out, frequency * ratio, 300, out.size() - 300);
            INFO(semitones << " semitones, " << frequency << " Hz: " << fit.snr_db() << " dB");
            // An image above 20 kHz is at least 25 dB down, all others 90.
            const bool high = (48000 - frequency) * ratio > 20000 && (48000 - frequency) * ratio < 28000;
            CHECK(fit.snr_db() >= (high ? 25 : 90));
        }
}

TEST_CASE("The pass band reaches 20 kHz", "[quality]") {
    for (const double semitones : {-24.0, -12.0, -7.0, -3.2, -1.0, 0.01, 0.37, 1.0, 4.0, 5.21, 7.0, 11.6, 12.0}) {
        const double ratio = std::exp2(semitones / 12),
                     most = 20000 / std::max(1.0, ratio); // of the clip, or of the output
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

TEST_CASE("A clip of another rate keeps its level to 20 of 24 parts of half its rate", "[quality]") {
    for (const int rate : {22050, 44100})
        for (const double part : {0.05, 0.5, 0.75, 1.0}) {
            const double frequency = part * rate * 20 / 48;
            const Signal out =
                pitched(project_of(sine(frequency, half, static_cast<std::size_t>(rate), rate), {}, rate), 0);
            INFO(rate << ": " << frequency << " Hz");
            CHECK(std::abs(db(fit_sine(out, frequency, 800, out.size() - 800).amplitude / half)) <= 0.1);
        }
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
