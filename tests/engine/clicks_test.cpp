// No end and no change of a play causes a click: the output's largest second difference, beyond the sine's own.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <functional>

using namespace support;

namespace {

/// Returns how far the output's largest second difference is above the sine's, in dBFS. `change` may render, and then
/// appends the output.
double click(double frequency, double phase, const std::function<void(kiai::Engine&, kiai::Play&, Signal&)>& change,
             const char* sound = "tone") {
    const Signal source = sine(frequency, 0.9, 48000, 48000, phase);
    const kiai::Project project = project_of(source, "[sound.one]\ntakes = [\"tone\"]\nlimit = { plays = 1 }\n");
    kiai::Engine engine(project, {.seed = 1});
    kiai::Play play = engine.play(sound);
    Signal out = side(render(engine, 9600 + engine.latency()), 0);
    change(engine, play, out);
    const Signal rest = side(render(engine, 9600), 0);
    out.insert(out.end(), rest.begin(), rest.end());
    // The first frame of the clip may be a step of its own. From a little later on, every step is the engine's.
    const Signal changed(out.begin() + 4800, out.end() - 2), own(source.begin() + 100, source.begin() + 9000);
    double most = 0, sines = 0;
    for (std::size_t i = 1; i + 1 < changed.size(); ++i)
        most = std::max(most, std::abs(changed[i + 1] - 2.0 * changed[i] + changed[i - 1]));
    for (std::size_t i = 1; i + 1 < own.size(); ++i)
        sines = std::max(sines, std::abs(own[i + 1] - 2.0 * own[i] + own[i - 1]));
    return db(std::max(0.0, most - sines));
}

constexpr double frequencies[] = {20, 100, 440, 997, 3000, 10000};

} // namespace

TEST_CASE("Stopping a play does not click", "[clicks]") {
    for (const double frequency : frequencies)
        for (const double phase : {0.0, 0.125, 0.25, 0.4, 0.75}) {
            INFO(frequency << " Hz, phase " << phase);
            CHECK(click(frequency, phase, [](kiai::Engine&, kiai::Play& play, Signal&) { play.stop(); }) <= -80);
            CHECK(click(frequency, phase, [](kiai::Engine&, kiai::Play& play, Signal&) {
                      play.stop(kiai::Seconds(0));
                  }) <= -80); // the shortest there is
        }
}

TEST_CASE("A gain step does not click", "[clicks]") {
    for (const double frequency : frequencies)
        for (const double phase : {0.0, 0.25, 0.6}) {
            INFO(frequency << " Hz, phase " << phase);
            CHECK(click(frequency, phase, [](kiai::Engine&, kiai::Play& play, Signal&) { play.set_gain(-60); }) <= -80);
            CHECK(click(frequency, phase, [](kiai::Engine& engine, kiai::Play& play, Signal& out) {
                      play.set_gain(-20);
                      const Signal meanwhile = side(render(engine, 100), 0);
                      out.insert(out.end(), meanwhile.begin(), meanwhile.end());
                      play.set_gain(0);
                  }) <= -80);
        }
}

TEST_CASE("Stealing does not click", "[clicks]") {
    for (const double frequency : frequencies)
        for (const double phase : {0.0, 0.25, 0.6}) {
            INFO(frequency << " Hz, phase " << phase);
            // The new play is inaudible, so only the end of the older one is measured.
            CHECK(click(
                      frequency, phase,
                      [](kiai::Engine& engine, kiai::Play&, Signal&) { engine.play("one", {.gain = -120}); },
                      "one") <= -80);
        }
}
