// A stopped play sounds on during its tail or its fade, and the app still controls it.
#include "support/bench.h"

#include <catch2/catch.hpp>

using namespace support;
using kiai::Outcome;
using kiai::Seconds;

namespace {

constexpr double bend = 0.01713 / 100; // of a sine of 100 Hz at full scale: (2 pi f / rate)^2

/// A loop of half a second with a tail of four and a half, and a loop that fades out in five seconds.
Bench bench_of_endings() {
    return Bench("[bus.low]\n[scope.bench]\non = true\nfade = \"50 ms\"\n"
                 "[sound.tail]\ntakes = [\"tone\"]\nloop = { to = \"500 ms\", end = \"tail\" }\nbus = \"low\"\n"
                 "[sound.fade]\ntakes = [\"tone\"]\nloop = true\nfade-out = \"5 s\"\nbus = \"low\"\n",
                 sine(100, 0.5, 48000 * 5));
}

/// Returns the peak of each side from a frame of the last output on.
double peak_from(const Bench& bench, std::size_t frame) {
    const Signal left = side(bench.heard, 0);
    return peak(Signal(left.begin() + static_cast<std::ptrdiff_t>(frame), left.end()));
}

double bend_of(const Bench& bench) {
    return largest_inner_second_difference(side(bench.heard, 0));
}

} // namespace

TEST_CASE("A tail or a long fade ends with the scope that is left, in the scope's own time", "[ending]") {
    for (const char* sound : {"tail", "fade"}) {
        INFO(sound);
        Bench bench = bench_of_endings();
        const kiai::Play play = bench.engine.play(sound, {}, "bench");
        bench.everything(4800);
        bench.engine.stop(sound);
        bench.everything(48000);
        CHECK(peak_from(bench, 24000) > 0.4); // it sounds on
        bench.engine.leave_scope("bench");
        const auto log = bench.everything(9600);
        CHECK(peak_from(bench, 2400 + 144) == 0);  // the limiter comes a little later
        CHECK(bend_of(bench) < 0.5 * bend + 1e-4); // and no click
        CHECK(bench.engine.sounding() == 0);
        CHECK(play.reason() == kiai::EndReason::scope_left);
        REQUIRE(with_outcome(log, Outcome::ended).size() == 1);
    }
}

TEST_CASE("A tail or a fade is paused while its scope, its sound or its play is paused", "[ending]") {
    for (const char* sound : {"tail", "fade"})
        for (const int way : {0, 1, 2}) {
            INFO(sound << ", way " << way);
            Bench bench = bench_of_endings();
            kiai::Play play = bench.engine.play(sound, {}, "bench");
            bench.everything(4800);
            play.stop();
            bench.everything(9600);
            const auto pause = [&](bool on) {
                if (way == 0) on ? bench.engine.pause_scope("bench") : bench.engine.resume_scope("bench");
                if (way == 1) on ? bench.engine.pause(sound) : bench.engine.resume(sound);
                if (way == 2) on ? play.pause() : play.resume();
            };
            pause(true);
            bench.everything(48000);
            CHECK(play.state() == kiai::PlayState::paused);
            CHECK(peak_from(bench, 480 + 144) == 0);
            CHECK(bend_of(bench) < 0.5 * bend + 1e-4);
            CHECK(bench.engine.looping() == 1); // it would never end
            pause(false);
            bench.everything(9600);
            CHECK(play.state() == kiai::PlayState::fading);
            CHECK(peak_from(bench, 4800) > 0.4);
            CHECK(bend_of(bench) < 0.5 * bend + 1e-4);
            CHECK(bench.engine.looping() == 0);
            bench.everything(48000 * 5);
            CHECK(bench.engine.sounding() == 0);
            CHECK(play.reason() == kiai::EndReason::stopped);
            // The play is as long as without a pause, plus the 10 ms of the fade into the pause.
            const kiai::Frames whole = std::string(sound) == "tail" ? 240000 : 4800 + 240000;
            CHECK(static_cast<double>(play.elapsed().count()) * 48000 == Approx(whole).margin(1));
        }
}

TEST_CASE("A tail or a fade is muted and turned down with its bus and its sound", "[ending]") {
    for (const char* sound : {"tail", "fade"}) {
        INFO(sound);
        Bench bench = bench_of_endings();
        bench.engine.play(sound);
        bench.everything(4800);
        bench.engine.stop(sound);
        bench.engine.mute_bus("low", true);
        bench.everything(9600);
        CHECK(peak_from(bench, 480 + 144) == 0);
        bench.engine.mute_bus("low", false);
        bench.everything(9600);
        CHECK(peak_from(bench, 4800) > 0.4);
        CHECK(bend_of(bench) < 0.5 * bend + 1e-4);
    }
}

TEST_CASE("A fade is cut short by a shorter one, and by no longer one", "[ending]") {
    Bench bench = bench_of_endings();
    kiai::Play play = bench.engine.play("fade");
    bench.everything(4800);
    play.stop(Seconds(0.5));
    bench.everything(4800);
    play.stop(Seconds(3)); // it is over sooner than that
    play.stop();
    bench.everything(4800);
    play.set_gain(-3);
    play.stop(Seconds(0.02));
    play.set_gain(12); // it is on its way out
    bench.everything(4800);
    CHECK(peak_from(bench, 960 + 144) == 0);
    CHECK(bend_of(bench) < 0.5 * bend + 1e-4);
    CHECK(bench.engine.sounding() == 0);
    CHECK(play.elapsed().count() * 48000 == Approx(4800 * 3 + 960).margin(1));

    kiai::Play other = bench.engine.play("fade");
    bench.everything(4800);
    other.stop(Seconds(0.2));
    other.stop(Seconds(3));
    bench.everything(12000);
    CHECK(other.elapsed().count() * 48000 == Approx(4800 + 9600).margin(1));
}
