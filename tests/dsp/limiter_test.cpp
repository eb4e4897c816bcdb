// The limiter at the engine's output: its ceiling by another meter, and that it changes nothing below its threshold.
#include "support/project_folder.h"
#include "support/true_peak.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>

using namespace support;

namespace {

/// Returns that many plays of a clip at once, each with its own pitch, with silence after them.
std::vector<float> together(const kiai::Project& project, int plays, float gain) {
    kiai::Engine engine(project, {.seed = 1});
    for (int i = 0; i < plays; ++i) engine.play("loud", {.gain = gain, .pitch = static_cast<float>(i) * 0.37f});
    return render(engine, 48000);
}

const char* many = "[sound.loud]\ntakes = [\"tone\"]\nlimit = { plays = 200 }\n";

} // namespace

TEST_CASE("No mix passes the ceiling", "[limiter]") {
    const Signal inputs[] = {noise(1, 24000, 3), sine(997, 1, 24000), sine(11999, 1, 24000, 48000, 0.125),
                             sine(60, 1, 24000)};
    for (const Signal& input : inputs)
        for (const int plays : {1, 2, 8, 100}) {
            const double peak = true_peak_db(together(project_of(input, many), plays, plays == 1 ? 20.0f : 0.0f));
            INFO(plays << " plays: " << peak << " dBTP");
            CHECK(peak <= -0.1);
            CHECK(peak > -6); // it limits, it does not silence
        }
}

TEST_CASE("Steps and single spikes do not pass the ceiling", "[limiter]") {
    Signal spikes(24000, 0.0f);
    for (std::size_t i = 100; i < spikes.size(); i += 997) spikes[i] = i % 2 == 0 ? 8.0f : -5.0f;
    CHECK(true_peak_db(together(project_of(spikes, many), 1, 0)) <= -0.1);
    Signal square(24000);
    for (std::size_t i = 0; i < square.size(); ++i) square[i] = i / 120 % 2 == 0 ? 1.0f : -1.0f;
    CHECK(true_peak_db(together(project_of(square, many), 3, 0)) <= -0.1);
}

TEST_CASE("Below the threshold the output is the input, delayed", "[limiter]") {
    const Signal quiet = noise(0.45, 20000, 5);
    kiai::Engine engine(project_of(quiet), {.seed = 1});
    engine.play("tone");
    const Signal out = side(render(engine, 30000), 0);
    const auto latency = static_cast<std::size_t>(engine.latency());
    CHECK(latency <= 96);
    CHECK(std::all_of(out.begin(), out.begin() + engine.latency(), [](float sample) { return sample == 0; }));
    CHECK(std::equal(quiet.begin(), quiet.end(), out.begin() + engine.latency()));
}

TEST_CASE("Once released, the output is the input again, delayed", "[limiter]") {
    const Signal soft = noise(0.4, 96000, 6), burst = sine(500, 1, 4800);
    const ProjectFolder folder("[clip]\nsoft = \"soft.wav\"\nburst = { file = \"burst.wav\", gain = 12 }\n");
    folder.write_wav("soft.wav", soft);
    folder.write_wav("burst.wav", burst);
    kiai::Engine engine(folder.load(), {.seed = 1});
    engine.play("soft");
    engine.play("burst");
    const Signal out = side(render(engine, 96000), 0);
    const auto latency = static_cast<std::size_t>(engine.latency());
    CHECK_FALSE(std::equal(soft.begin() + 5000, soft.begin() + 6000,
                           out.begin() + 5000 + engine.latency())); // it still recovers here
    std::size_t same_from = soft.size() - latency;
    while (same_from > 0 && out[same_from - 1 + latency] == soft[same_from - 1]) --same_from;
    INFO("the same from frame " << same_from);
    CHECK(same_from < 4800 + 48000 / 2);
}
