// The crossfade of a loop keeps the level.
#include "support/bench.h"

#include <catch2/catch.hpp>

using namespace support;

namespace {

/// Returns the minimum and maximum level in windows of 20 ms around the crossfade, in dB relative to the whole.
std::pair<double, double> level_at_seam(const Signal& clip, const char* seam, std::size_t seam_frames) {
    Bench bench(std::string("[sound.s]\ntakes = [\"tone\"]\nloop = { crossfade = \"") + seam + "\" }\n", clip);
    bench.engine.play("s");
    const auto turn = clip.size() - seam_frames;
    const Signal out = side(render(bench.engine, static_cast<kiai::Frames>(clip.size() + 40 * turn)), 0);
    const double whole = rms(out, 1000, out.size());
    std::pair<double, double> found{100, -100};
    // The mean power over all turns at each position of the crossfade.
    constexpr std::size_t window = 960;
    for (std::size_t place = 0; place + window <= seam_frames + 2 * window; place += window / 2) {
        double power = 0;
        int turns = 0;
        for (std::size_t begin = clip.size() - seam_frames - window + 200; begin + place + window < out.size();
             begin += turn, ++turns) {
            const double level = rms(out, begin + place, begin + place + window);
            power += level * level;
        }
        const double level = db(std::sqrt(power / turns) / whole);
        found = {std::min(found.first, level), std::max(found.second, level)};
    }
    return found;
}

} // namespace

TEST_CASE("A crossfade of noise keeps its level", "[loop][crossfade][quality]") {
    for (std::uint64_t seed = 1; seed <= 3; ++seed) {
        const auto [least, most] = level_at_seam(noise(0.2, 96000, seed), "400 ms", 19200);
        INFO("seed " << seed);
        CHECK(least >= -0.5);
        CHECK(most <= 0.5);
    }
}

TEST_CASE("A crossfade of a tone that is steady keeps its level", "[loop][crossfade][quality]") {
    // 100 Hz: the loop without its crossfade contains whole periods.
    const auto [least, most] = level_at_seam(sine(100, 0.2, 96000), "400 ms", 19200);
    CHECK(least >= -0.1);
    CHECK(most <= 0.1);
}
