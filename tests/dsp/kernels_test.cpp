// Compares the portable with the vectorised kernels on everything that the demo does.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>

using namespace support;

TEST_CASE("Clips are converted to the same bits by plain and by vectorised kernels", "[kernels]") {
    for (const int rate : {22050, 32000, 44100, 96000}) {
        const auto heard = [rate](bool portable) { // each from its own samples: a clip is converted once
            kiai::Engine engine(project_of(noise(0.3, 20000, 3), {}, rate), {.seed = 1, .portable_kernels = portable});
            engine.play("tone");
            return render(engine, 12000);
        };
        CHECK(heard(true) == heard(false));
    }
}

TEST_CASE("An octave sounds the same by plain and by vectorised kernels, at every block size", "[kernels]") {
    for (const float pitch : {12.0f, -12.0f, 24.0f, 7.0f}) {
        const auto heard = [pitch](bool portable, int block) {
            kiai::Engine engine(project_of(noise(0.3, 40000, 3)), {.seed = 1, .portable_kernels = portable});
            engine.play("tone", {.pitch = pitch});
            return render(engine, 9000, block);
        };
        const auto fast = heard(false, 256), plain = heard(true, 256);
        double most = 0;
        for (std::size_t i = 0; i < fast.size(); ++i)
            most = std::max(most, std::abs(static_cast<double>(fast[i]) - plain[i]));
        CHECK(most > 0);
        CHECK(db(most) < -120);
        CHECK(heard(false, 37) == fast);
        CHECK(heard(true, 37) == plain);
    }
}

TEST_CASE("Plain and vectorised kernels decide the same and sound the same", "[kernels]") {
    const kiai::Project project = kiai::load_project(demo()).project;
    const kiai::Trace trace = kiai::load_trace(demo() / "run.jsonl").trace;
    const kiai::Rehearsal fast = kiai::rehearse(project, trace),
                          plain = kiai::rehearse(project, trace, {.portable_kernels = true});
    REQUIRE(fast.samples.size() == plain.samples.size());
    double most = 0;
    for (std::size_t i = 0; i < fast.samples.size(); ++i)
        most = std::max(most, std::abs(static_cast<double>(fast.samples[i]) - plain.samples[i]));
    INFO("largest difference: " << db(most) << " dBFS");
    CHECK(db(most) < -110);
    REQUIRE(fast.decisions.size() == plain.decisions.size());
    for (std::size_t i = 0; i < fast.decisions.size(); ++i) {
        CHECK(fast.decisions[i].frame == plain.decisions[i].frame);
        CHECK(fast.decisions[i].outcome == plain.decisions[i].outcome);
        CHECK(fast.decisions[i].play == plain.decisions[i].play);
    }
    REQUIRE(fast.buses.size() == plain.buses.size());
    for (std::size_t b = 0; b < fast.buses.size(); ++b) {
        CHECK(fast.buses[b].level.momentary == Approx(plain.buses[b].level.momentary).margin(0.001));
        CHECK(fast.buses[b].level.short_term == Approx(plain.buses[b].level.short_term).margin(0.001));
        CHECK(fast.buses[b].level.true_peak == Approx(plain.buses[b].level.true_peak).margin(0.001));
    }
}
