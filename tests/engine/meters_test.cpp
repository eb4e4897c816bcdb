// Compares the meters of the buses with libebur128 on the same samples.
#include "support/project_folder.h"
#include <catch2/catch.hpp>
#include <ebur128.h>

#include <algorithm>
#include <cmath>

using namespace support;

namespace {

struct Loudness {
    double momentary = 0, short_term = 0, true_peak = 0, peak = 0;
};

/// Measures the last part of interleaved stereo.
Loudness measured_by_ebur128(const std::vector<float>& samples, int rate) {
    Loudness loudness;
    const auto window = static_cast<std::size_t>(rate) * 3 / 10;
    ebur128_state* meter =
        ebur128_init(2, static_cast<unsigned long>(rate), EBUR128_MODE_S | EBUR128_MODE_M | EBUR128_MODE_TRUE_PEAK);
    ebur128_add_frames_float(meter, samples.data(), samples.size() / 2 - window);
    ebur128_add_frames_float(meter, samples.data() + samples.size() - 2 * window, window);
    double sides[2] = {};
    for (unsigned side = 0; side < 2; ++side) ebur128_prev_true_peak(meter, side, &sides[side]);
    loudness.true_peak = db(std::max(sides[0], sides[1]));
    ebur128_loudness_momentary(meter, &loudness.momentary);
    ebur128_loudness_shortterm(meter, &loudness.short_term);
    ebur128_destroy(&meter);
    const std::vector<float> last(samples.end() - static_cast<std::ptrdiff_t>(2 * window), samples.end());
    loudness.peak = db(std::max(peak(side(last, 0)), peak(side(last, 1))));
    return loudness;
}

void compare(const Signal& signal, int rate) {
    // Far below the limiter's threshold, so that the output is the bus; four seconds, a whole number of blocks.
    kiai::Engine engine(
        project_of(signal, "[bus.b]\ngain = -3\n[sound.s]\ntakes = ['tone']\nbus = 'b'\npan = 0.4\n", rate),
        {.sample_rate = rate, .seed = 1});
    CHECK(engine.bus_level("b").peak == 0);
    CHECK(engine.bus_level("main").short_term == -200);
    engine.play("s");
    const auto frames = static_cast<kiai::Frames>(rate) * 4;
    std::vector<float> out = render(engine, frames);
    const kiai::BusLevel bus = engine.bus_level("b"), all = engine.bus_level("main");
    const std::vector<float> late = render(engine, engine.latency());
    out.erase(out.begin(), out.begin() + engine.latency() * 2); // what went into the limiter
    out.insert(out.end(), late.begin(), late.end());
    const Loudness other = measured_by_ebur128(out, rate);
    for (const kiai::BusLevel& level : {bus, all}) {
        CHECK(static_cast<double>(level.momentary) == Approx(other.momentary).margin(0.1));
        CHECK(static_cast<double>(level.short_term) == Approx(other.short_term).margin(0.1));
        CHECK(db(static_cast<double>(level.true_peak)) == Approx(other.true_peak).margin(0.1));
        CHECK(db(static_cast<double>(level.peak)) == Approx(other.peak).margin(0.01));
        CHECK(level.reduction == 0);
    }
}

} // namespace

TEST_CASE("Peak, true peak and loudness of a bus are those of another meter", "[meters][quality]") {
    for (const int rate : {44100, 48000, 96000}) {
        INFO(rate << " Hz");
        const std::size_t frames = static_cast<std::size_t>(rate) * 4;
        compare(sine(997, 0.3, frames, rate), rate);
        compare(sine(60, 0.3, frames, rate), rate);
        compare(sine(rate / 6.0, 0.3, frames, rate, 1 / 12.0), rate); // its peaks are between the frames
        const Signal white = noise(0.4, frames + 3, 5); // near half the rate estimates between the frames differ
        Signal uneven(frames);
        for (std::size_t i = 0; i < frames; ++i)
            uneven[i] = (white[i] + 3 * white[i + 1] + 3 * white[i + 2] + white[i + 3]) / 8;
        for (std::size_t i = 0; i < frames; ++i)
            uneven[i] *= static_cast<float>(0.2 + 0.8 * std::sin(static_cast<double>(i) * 1e-5));
        compare(uneven, rate);
    }
}

TEST_CASE("A meter falls back to silence, reports how much the limiter lowers, and knows no unknown bus", "[meters]") {
    kiai::Engine engine(project_of(sine(440, 0.9, 24000), "[sound.s]\ntakes = ['tone']\n"), {.seed = 1});
    engine.bus_level("main");
    engine.play("s", {.gain = 6});
    render(engine, 24000);
    CHECK(static_cast<double>(engine.bus_level("main").reduction) == Approx(6 + db(0.9) + 0.5).margin(0.2));
    CHECK(static_cast<double>(engine.bus_level("main").peak) == Approx(0.9 * std::pow(10, 0.3)).margin(0.01));
    render(engine, 4 * 48000);
    const kiai::BusLevel after = engine.bus_level("main");
    CHECK(after.peak == 0);
    CHECK(after.true_peak == 0);
    CHECK(after.reduction == 0);
    CHECK(after.momentary == -200);
    CHECK(after.short_term == -200);
    CHECK(engine.bus_level("nowhere").peak == 0);
}
