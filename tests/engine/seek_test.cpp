// The position of a play: read, moved, looped, started at a frame, on another bus.
#include "support/bench.h"
#include "support/signal.h"

#include <kiai/load.h>

#include <catch2/catch.hpp>

#include <cmath>

using namespace support;
using std::chrono::milliseconds;

namespace {

/// A slow ramp, in which the level is the number of the frame.
Signal ramp(std::size_t frames) {
    Signal signal(frames);
    for (std::size_t i = 0; i < frames; ++i) signal[i] = 0.8f * static_cast<float>(i) / static_cast<float>(frames);
    return signal;
}

constexpr std::size_t two_seconds = 96000;
double frame_at(float level) {
    return static_cast<double>(level) / 0.8 * two_seconds;
}

Signal without_latency(const kiai::Engine& engine, const std::vector<float>& all) {
    return side({all.begin() + engine.latency() * 2, all.end()}, 0);
}

const std::string once = "[sound.s]\ntakes = ['tone']\n";

} // namespace

TEST_CASE("A play tells where in its clip it is", "[seek]") {
    kiai::Engine engine(project_of(ramp(two_seconds), once + "[sound.turns]\ntakes = ['tone']\n"
                                                             "loop = { from = '0.5 s', to = '1 s', count = 4 }\n"),
                        {.seed = 1});
    kiai::Play play = engine.play("s"), high = engine.play("s", {.pitch = 12}), turns = engine.play("turns"),
               later = engine.play("s", {.delay = milliseconds(500), .start = milliseconds(250)});
    CHECK(play.position().count() == 0);
    render(engine, 9600);
    CHECK(play.position().count() == Approx(0.2));
    CHECK(high.position().count() == Approx(0.4).margin(1e-3));
    CHECK(later.position().count() == 0);
    CHECK(turns.loops_left() == 3);
    CHECK(play.loops_left() == 0);
    render(engine, 24000);
    CHECK(turns.position().count() == Approx(0.7));
    CHECK(later.position().count() == Approx(0.45));
    render(engine, 24000); // 1.2 s: in the second turn
    CHECK(turns.position().count() == Approx(0.7));
    CHECK(turns.loops_left() == 2);
    play.pause();
    render(engine, 4800);
    const double paused = play.position().count();
    CHECK(paused == Approx(1.21).margin(0.001));
    render(engine, 24000);
    CHECK(play.position().count() == paused);
    CHECK(kiai::Play().position().count() == 0);
}

TEST_CASE("A play continues at another place, in 20 ms and without a click", "[seek]") {
    const kiai::Frames block = GENERATE(64, 256, 1000);
    kiai::Engine engine(project_of(ramp(two_seconds), once), {.seed = 1});
    kiai::Play play = engine.play("s");
    CHECK(play.position().count() == 0);
    std::vector<float> all = render(engine, 9600, block);
    play.seek(kiai::Seconds(1.5));
    const std::vector<float> more = render(engine, 14400 + engine.latency(), block);
    all.insert(all.end(), more.begin(), more.end());
    const Signal out = without_latency(engine, all);
    CHECK(frame_at(out[9599]) == Approx(9599).margin(2));
    CHECK(std::abs(out[9600 + 480]) < 1e-6f); // silent in between
    for (const std::size_t at : {std::size_t{9600 + 961}, std::size_t{20000}})
        CHECK(frame_at(out[at]) == Approx(72000 + static_cast<double>(at) - 9600 - 480).margin(3));
    CHECK(db(largest_inner_second_difference(Signal(out.begin() + 100, out.end()))) < -80);
    CHECK(play.position().count() == Approx(1.5 + (14400 - 480 + static_cast<double>(engine.latency())) / 48000));
    CHECK(play.playing());
}

TEST_CASE("A seek before anything was heard, while it is paused, or beyond the end", "[seek]") {
    Bench bench(once, ramp(two_seconds));
    kiai::Engine& engine = bench.engine;
    SECTION("in the moment of the call it holds from the first frame") {
        kiai::Play play = engine.play("s");
        play.seek(kiai::Seconds(1));
        const Signal out = without_latency(engine, render(engine, 4800 + engine.latency()));
        CHECK(frame_at(out[0]) == Approx(48000).margin(2));
        CHECK(frame_at(out[4000]) == Approx(52000).margin(2));
    }
    SECTION("before it begins") {
        kiai::Play play = engine.play("s", {.delay = milliseconds(100)});
        play.seek(kiai::Seconds(1));
        const Signal out = without_latency(engine, render(engine, 9600 + engine.latency()));
        CHECK(peak(Signal(out.begin(), out.begin() + 4800)) == 0);
        CHECK(frame_at(out[4800]) == Approx(48000).margin(2));
    }
    SECTION("paused") {
        kiai::Play play = engine.play("s");
        render(engine, 4800);
        play.pause();
        render(engine, 4800);
        play.seek(kiai::Seconds(1));
        render(engine, 480);
        play.resume();
        const Signal out = without_latency(engine, render(engine, 4800 + engine.latency()));
        CHECK(frame_at(out[2400]) == Approx(48000 + 2400).margin(490));
    }
    SECTION("beyond the end it is over") {
        kiai::Play play = engine.play("s");
        render(engine, 4800);
        play.seek(kiai::Seconds(2.5));
        render(engine, 4800);
        CHECK_FALSE(play.playing());
        CHECK(play.reason() == kiai::EndReason::finished);
    }
    SECTION("twice in one fade, the last counts") {
        kiai::Play play = engine.play("s");
        render(engine, 4800);
        play.seek(kiai::Seconds(0.2));
        render(engine, 100);
        play.seek(kiai::Seconds(1));
        const Signal out = without_latency(engine, render(engine, 4800 + engine.latency()));
        CHECK(frame_at(out[4000]) == Approx(48000 + 3600).margin(200));
    }
    SECTION("each is a line of the log, and numbers are checked") {
        kiai::Play play = engine.play("s");
        bench.decided(4800);
        play.seek(kiai::Seconds(1.25));
        REQUIRE(bench.decided().size() == 1);
        CHECK(describe(bench.log[0]) == "play-seek: set position of s #1 to 1.25 s");
        play.seek(kiai::Seconds(NAN));
        CHECK(bench.told() == "bad-number");
        play.seek(kiai::Seconds(-1));
        CHECK(bench.told() == "out-of-range, done s");
    }
}

TEST_CASE("A seek beyond the end while the bus moves ends the play, and its level is known", "[seek]") {
    Bench bench("[bus.low]\n" + once + "bus = 'low'\n", sine(500, 0.4, 96000));
    kiai::Play play = bench.engine.play("s");
    bench.decided(1013); // within a cell
    bench.engine.set_bus_gain("low", -20, kiai::Seconds(0.5));
    play.seek(kiai::Seconds(9));
    const auto all = bench.everything(9600);
    const auto ended = with_outcome(all, kiai::Outcome::ended);
    REQUIRE(ended.size() == 1);
    CHECK(static_cast<double>(ended[0].level) == Approx(db(0.4)).margin(0.1));
}

TEST_CASE("A seek within a loop begins its turns again, with a pitch that moves as well", "[seek]") {
    kiai::Engine engine(project_of(ramp(two_seconds), "[sound.s]\ntakes = ['tone']\nlimit = { plays = 9 }\n"
                                                      "loop = { from = '0.5 s', to = '1 s', count = 2 }\n"),
                        {.seed = 1});
    kiai::Play play = engine.play("s"), bent = engine.play("s");
    bent.set_pitch(0.5f, milliseconds(300));
    render(engine, 60000); // in the second turn
    CHECK(play.loops_left() == 0);
    play.seek(kiai::Seconds(0.75));
    bent.seek(kiai::Seconds(0.75));
    render(engine, 4800);
    CHECK(play.loops_left() == 1);
    CHECK(play.position().count() == Approx(0.75 + (4800 - 480) / 48000.0));
    CHECK(bent.position().count() == Approx(0.75 + (4800 - 480) / 48000.0 * std::exp2(0.5 / 12)).margin(1e-3));
    play.seek(kiai::Seconds(1.2)); // behind the loop
    render(engine, 4800);
    CHECK(play.loops_left() == 0);
    CHECK(play.position().count() == Approx(1.2 + (4800 - 480) / 48000.0));
}

TEST_CASE("A long clip that is read from its file continues at the requested position", "[seek]") {
    const ProjectFolder folder;
    folder.write_wav("long.wav", ramp(48000 * 20));
    folder.toml("[clip]\nlong = { file = 'long.wav', stream = true }\n");
    kiai::Engine engine(folder.load(), {.seed = 1, .streams = 1, .synchronous_streams = true});
    kiai::Play play = engine.play("long");
    render(engine, 4800);
    for (const double place : {15.0, 0.1, 7.5}) {
        play.seek(kiai::Seconds(place));
        const Signal out = without_latency(engine, render(engine, 48000 + engine.latency()));
        const double frame = static_cast<double>(out[40000]) / 0.8 * 48000 * 20;
        CHECK(frame == Approx(place * 48000 + 40000 - 480).margin(200));
        render(engine, 480);
    }
    play.stop();
    render(engine, 4800);
    CHECK(engine.sounding() == 0);
    CHECK(engine.load().streams == 0);
}

TEST_CASE("A play loops as often as requested, whatever its sound says", "[seek]") {
    const std::string text = once + "[sound.turns]\ntakes = ['tone']\nloop = { count = 3 }\n"
                                    "[sound.hum]\ntakes = ['tone']\nloop = true\n";
    Bench bench(text, sine(100, 0.4, 4800));
    const auto length = [&](const char* name, std::optional<int> turns) {
        bench.engine.play(name, {.loop = turns});
        bench.everything(48000);
        const auto ended = with_outcome(bench.log, kiai::Outcome::ended);
        return ended.empty() ? -1 : ended.at(0).length;
    };
    CHECK(length("s", std::nullopt) == 4800);
    CHECK(length("s", 3) == 14400);
    CHECK(length("s", 1) == 4800);
    CHECK(length("turns", std::nullopt) == 14400);
    CHECK(length("turns", 2) == 9600);
    CHECK(length("hum", 1) == 4800);
    CHECK(bench.engine.looping() == 0);
    CHECK(length("s", 0) == -1);
    CHECK(bench.engine.looping() == 1);
    CHECK(rms(side(bench.heard, 0), 24000, 48000) == Approx(0.4 / std::sqrt(2)).epsilon(0.01));
    bench.engine.stop("s");
    bench.engine.play("s", {.loop = -4});
    CHECK(bench.told() == "stopped s, out-of-range, played s");
}

TEST_CASE("A play can go to another bus: its gain, its limit, its gap, its meter and its stop are of that one",
          "[seek]") {
    const std::string text =
        "[bus.low]\ngain = -12\nlimit = { plays = 1 }\n[bus.high]\n" + once + "bus = 'high'\nlimit = { plays = 9 }\n";
    Bench bench(text, sine(500, 0.4, 96000));
    kiai::Engine& engine = bench.engine;
    engine.bus_level("low"), engine.bus_level("high");
    kiai::Play play = engine.play("s", {.bus = "low"});
    bench.decided(9600);
    CHECK(engine.bus_level("high").peak == 0);
    CHECK(db(static_cast<double>(engine.bus_level("low").peak) / 0.4) == Approx(-12).margin(0.1));
    REQUIRE(engine.plays().size() == 1);
    CHECK(engine.plays()[0].bus == "low");
    engine.play("s", {.bus = "low"});
    CHECK(bench.told(9600) == "stolen s, played s"); // one at once there
    engine.play("s");
    bench.decided();
    engine.stop(kiai::Target::bus("low"));
    bench.decided(9600);
    CHECK(engine.sounding() == 1);
    // After a project change the play stays on that bus; if the bus was removed, it returns to its sound's bus.
    engine.play("s", {.bus = "low"});
    bench.decided(4800);
    engine.set_project(project_of(sine(500, 0.4, 96000), "[bus.new]\n" + text));
    bench.decided(4800);
    CHECK(engine.plays().at(1).bus == "low");
    engine.set_project(project_of(sine(500, 0.4, 96000), "[bus.high]\n" + once + "bus = 'high'\n"));
    bench.decided(4800);
    CHECK(engine.plays().at(1).bus == "high");
    engine.play("s", {.bus = "hihg"});
    REQUIRE(bench.decided().size() == 1);
    CHECK(describe(bench.log[0]) == "play: ignored: unknown bus \"hihg\"; did you mean \"high\"?");
}

TEST_CASE("A play begins at a frame of the clock", "[seek]") {
    Bench bench(once, Signal(1000, 0.4f));
    kiai::Engine& engine = bench.engine;
    kiai::Play play = engine.play("s", {.at = kiai::Frames{7777}});
    CHECK(play.state() == kiai::PlayState::asked);
    bench.decided(9600);
    const Signal out = side(bench.heard, 0);
    const auto latency = static_cast<std::size_t>(engine.latency());
    CHECK(out[7776 + latency] == 0);
    CHECK(out[7777 + latency] == 0.4f);
    engine.play("s", {.at = kiai::Frames{100}}); // has passed
    CHECK(bench.told() == "late, played s");
}
