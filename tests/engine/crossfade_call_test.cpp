// Crossfades from one sound to another in one call, at equal power.
#include "support/bench.h"
#include "support/signal.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace support;
using std::chrono::milliseconds;

namespace {

const std::string two = "[bus.music]\n[sound.day]\ntakes = ['tone']\nloop = true\nbus = 'music'\n"
                        "[sound.night]\ntakes = ['tone']\nloop = true\nstart = '2.5 s'\nbus = 'music'\n";

/// Returns the level of both sounds in windows of 100 ms during the crossfade, in dB relative to the steady level.
std::vector<double> levels(const std::function<kiai::Play(kiai::Engine&, const kiai::Play&)>& cross) {
    kiai::Engine engine(project_of(noise(0.3, 48000 * 4, 9), two), {.seed = 1});
    const kiai::Play from = engine.play("day");
    std::vector<float> all = render(engine, 48000);
    cross(engine, from);
    const std::vector<float> more = render(engine, 48000 * 2);
    all.insert(all.end(), more.begin(), more.end());
    const Signal out = side(all, 0);
    const double steady = rms(out, 4800, 48000);
    std::vector<double> windows;
    for (std::size_t at = 48000; at + 4800 < 48000 * 3; at += 2400)
        windows.push_back(db(rms(out, at, at + 4800) / steady));
    return windows;
}

} // namespace

TEST_CASE("One sound passes into another at constant power", "[crossfade]") {
    for (const double level : levels([](kiai::Engine&engine, const kiai::Play&from) {
             return engine.crossfade(from, "night", kiai::Seconds(1));
         }))
        CHECK(std::abs(level) <= 0.5);
    for (const double level : levels([](kiai::Engine&engine, const kiai::Play&) {
             return engine.crossfade("day", "night", milliseconds(300));
         }))
        CHECK(std::abs(level) <= 0.5);
    for (const double level : levels([](kiai::Engine&engine, const kiai::Play&) {
             return engine.crossfade(kiai::Target::bus("music"), "night", milliseconds(1500));
         }))
        CHECK(std::abs(level) <= 0.5);
}

TEST_CASE("A crossfade says what it does, has no click, and ends what it began from", "[crossfade]") {
    const kiai::Frames block = GENERATE(100, 256, 4800);
    Bench bench(two, sine(300, 0.3, 48000));
    kiai::Play day = bench.engine.play("day");
    bench.decided(4800);
    kiai::Play night = bench.engine.crossfade(day, "night", milliseconds(100));
    bench.log.clear();
    std::vector<float> all = render(bench.engine, 9600, block);
    bench.engine.poll();
    std::vector<std::string> lines;
    for (const kiai::Decision& one : bench.log)
        if (one.outcome != kiai::Outcome::ended) lines.push_back(describe(one));
    CHECK(lines == std::vector<std::string>{"crossfade night: stopped day, 1 play",
                                            "crossfade night: played night #2, tone +0.00 st +0.00 dB"});
    CHECK_FALSE(day.playing());
    CHECK(day.reason() == kiai::EndReason::stopped);
    CHECK(night.playing());
    CHECK(night.number() == 2);
    const auto ended = with_outcome(bench.log, kiai::Outcome::ended);
    REQUIRE(ended.size() == 1);
    CHECK(ended[0].frame == 4800 + 4800);
    CHECK(db(largest_inner_second_difference(side(all, 0)) -
             largest_inner_second_difference(sine(300, 0.3 * std::sqrt(2), 4800))) < -70);
}

TEST_CASE("A crossfade to an unknown sound changes nothing, and one from a silent sound still starts the new one",
          "[crossfade]") {
    Bench bench(two, sine(300, 0.3, 48000));
    kiai::Play day = bench.engine.play("day");
    bench.decided(4800);
    kiai::Play none = bench.engine.crossfade(day, "nihgt", kiai::Seconds(1));
    CHECK(bench.told(4800) == "unknown-name");
    CHECK(bench.log[0].nearest == "night");
    CHECK(day.state() == kiai::PlayState::playing);
    CHECK(none.reason() == kiai::EndReason::unknown_name);
    bench.engine.crossfade("dya", "night", milliseconds(50));
    CHECK(bench.told(4800) == "unknown-name, played night");
    kiai::Play over = bench.engine.crossfade(kiai::Play(), "day", milliseconds(50));
    CHECK(bench.told(4800) == "played day");
    CHECK(over.playing());
    bench.engine.crossfade("night", "day", kiai::Seconds(NAN));
    CHECK(bench.told() == "bad-number");
    bench.engine.crossfade("day", "night", kiai::Seconds(0.1), {.gain = -6, .bus = "nowhere"});
    CHECK(bench.told() == "unknown-name");
}

TEST_CASE("A sound fades along the curve that it states", "[crossfade]") {
    const std::string text = "[sound.s]\ntakes = ['tone']\nfade-in = '0.5 s'\nfade-out = '0.5 s'\n";
    const auto level_in_the_middle = [&](const std::string& curve, bool of_end) {
        kiai::Engine engine(project_of(Signal(96000, 0.5f), text + curve), {.seed = 1});
        engine.play("s");
        if (of_end) {
            render(engine, 48000);
            engine.stop("s");
        }
        const std::vector<float> out = render(engine, 12000 + engine.latency() + 1);
        return static_cast<double>(out[out.size() - 2]) / 0.5;
    };
    for (const bool of_end : {false, true}) {
        CHECK(level_in_the_middle("", of_end) == Approx(0.5).margin(1e-3));
        CHECK(level_in_the_middle("fade-curve = 'equal-gain'\n", of_end) == Approx(0.5).margin(1e-3));
        CHECK(level_in_the_middle("fade-curve = 'equal-power'\n", of_end) == Approx(std::sqrt(0.5)).margin(1e-3));
    }
    const std::string action = "[sound.s]\ntakes = ['tone']\n" +
                               binding("notice = 'go'", "stop = 's', fade = '0.5 s', fade-curve = 'equal-power'");
    kiai::Engine engine(project_of(Signal(96000, 0.5f), action), {.seed = 1});
    engine.play("s");
    render(engine, 4800);
    engine.notice("go");
    const std::vector<float> out = render(engine, 12000 + engine.latency() + 1);
    CHECK(static_cast<double>(out[out.size() - 2]) / 0.5 == Approx(std::sqrt(0.5)).margin(1e-3));
}
