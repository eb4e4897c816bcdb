// The limiter's marks at every rate: ceiling, distortion of a bass, recovery from a single peak.
#include "support/project_folder.h"
#include "support/true_peak.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>

using namespace support;

namespace {

std::vector<float> limited(const Signal& samples, int rate, float gain) {
    kiai::Engine engine(project_of(samples, {}, rate), {.sample_rate = rate, .seed = 1});
    engine.play("tone", {.gain = gain});
    return render(engine, static_cast<kiai::Frames>(samples.size()));
}

} // namespace

TEST_CASE("The ceiling holds at every rate", "[limiter][quality]") {
    for (const int rate : {44100, 48000, 88200, 96000, 176400, 192000}) {
        const std::size_t frames = static_cast<std::size_t>(rate) / 2;
        Signal pattern = noise(1, frames, 7); // signs at random over the highest tone there is
        for (std::size_t i = 0; i < frames; ++i)
            pattern[i] = (pattern[i] > 0 ? 0.99f : -0.99f) * (i % 2 == 0 ? 1.0f : -1.0f);
        Signal square = sine(997, 1, frames, rate);
        for (float& x : square) x = x > 0 ? 0.99f : -0.99f;
        const Signal inputs[] = {noise(0.99, frames, 3), pattern, square, sine(0.49 * rate, 0.99, frames, rate, 0.1)};
        for (const Signal& input : inputs)
            for (const float gain : {6.0f, 12.0f, 20.0f}) {
                INFO(rate << " Hz, " << gain << " dB");
                CHECK(true_peak_db(limited(input, rate, gain), rate) <= -0.1);
            }
    }
}

TEST_CASE("A sine six decibels above the threshold is hardly distorted", "[limiter][quality]") {
    const std::pair<double, double> marks[] = {{40, 0.005}, {1000, 0.001}, {60, 0.005}, {100, 0.005}, {20, 0.01}};
    for (const auto& [frequency, most] : marks) {
        const Signal out = side(limited(sine(frequency, 0.94, 48000 * 3), 48000, 6.0f), 0);
        const Fit fit = fit_sine(out, frequency, 48000, 48000 * 3 - 4800);
        INFO(frequency << " Hz");
        CHECK(fit.residue * std::sqrt(2) / fit.amplitude <= most);
    }
}

TEST_CASE("One peak of 20 dB is recovered from within 100 ms, to the bit", "[limiter][quality]") {
    for (const int rate : {44100, 48000, 96000}) {
        Signal samples = sine(300, 0.05, static_cast<std::size_t>(rate) / 2, rate);
        const std::size_t at = static_cast<std::size_t>(rate) / 10;
        samples[at] = 9.4f;
        kiai::Engine engine(project_of(samples, {}, rate), {.sample_rate = rate, .seed = 1});
        engine.play("tone");
        const auto latency = static_cast<std::size_t>(engine.latency());
        const Signal out = side(render(engine, static_cast<kiai::Frames>(samples.size())), 0);
        std::size_t last = 0; // that is not the input
        for (std::size_t i = latency; i < out.size(); ++i)
            if (out[i] != samples[i - latency]) last = i;
        CHECK(last < at + latency + static_cast<std::size_t>(rate) / 10);
        CHECK(last > at);
    }
}
