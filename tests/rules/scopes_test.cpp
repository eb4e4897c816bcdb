// Scopes, timers and sequences: what starts, is paused and ends, and when.
#include "support/bench.h"

#include <kiai/workshop/rehearse.h>

#include <catch2/catch.hpp>

#include <cmath>

using namespace support;
using kiai::Outcome;

namespace {

/// Returns the frames of the decisions of one kind, over a whole run in blocks of `block`.
std::vector<kiai::Frames> frames_of(Bench& bench, Outcome outcome, kiai::Frames frames, kiai::Frames block = 512) {
    std::vector<kiai::Frames> at;
    for (kiai::Frames done = 0; done < frames; done += block)
        for (const auto& decision : bench.everything(std::min(block, frames - done)))
            if (decision.outcome == outcome) at.push_back(decision.frame);
    return at;
}

} // namespace

TEST_CASE("Leaving a scope ends what belongs to it with its fade, and what outlives it continues", "[scope]") {
    Bench bench(hum + "fade-out = \"1 s\"\n[sound.long]\ntakes = [\"tone\"]\nloop = true\noutlives = true\n" +
                    "[scope.bench]\nfade = \"100 ms\"\n" +
                    binding("key-down = \"KeyA\"", "play = \"hum\"", "scope = \"bench\"") +
                    binding("key-down = \"KeyB\"", "play = \"long\"", "scope = \"bench\"") +
                    binding("key-down = \"KeyC\"", "play = \"hum\"") +
                    binding("scope-leave = \"bench\"", "play = \"tone\"", "scope = \"bench\""),
                sine(1000, 0.1, 480));
    bench.engine.key_down("KeyA");
    CHECK(bench.told() == "scope-off");
    bench.engine.key_up("KeyA");
    bench.engine.enter_scope("bench");
    bench.engine.enter_scope("bench"); // no effect
    CHECK(bench.told() == "done, same-state");
    for (const char* key : {"KeyA", "KeyB", "KeyC"}) bench.engine.key_down(key);
    kiai::Play direct = bench.engine.play("hum", {}, "bench");
    CHECK(bench.told() == "played hum, played long, played hum, played hum");
    CHECK(bench.engine.looping() == 4);
    bench.engine.leave_scope("bench");
    const kiai::Frames left = bench.engine.now();
    const auto log = bench.everything(9600);
    CHECK(log.at(0).sound == "tone"); // first what is bound to the leaving
    for (const auto& decision : log)
        if (decision.outcome == Outcome::ended && decision.sound == "hum") {
            CHECK(decision.reason == kiai::EndReason::scope_left);
            CHECK(decision.frame == left + 4800);
        }
    CHECK(bench.engine.looping() == 2);
    CHECK(direct.reason() == kiai::EndReason::scope_left);
    const Signal after = side(bench.heard, 0); // once `tone` is over: three hums fade, one sound continues
    CHECK(largest_inner_second_difference(Signal(after.begin() + 700, after.end())) <
          0.1 * 0.01713 * 4 + 1e-4); // that of four such sines
    bench.engine.play("hum", {}, "bench");
    CHECK(bench.told() == "scope-off");
    bench.engine.play("hum", {}, "bnech");
    CHECK(bench.told() == "unknown-name");
}

TEST_CASE("What a scope pauses is paused where it is, without a click, and continues from there", "[scope][pause]") {
    for (const double frequency : {20.0, 440.0, 9973.0}) {
        const Signal signal = sine(frequency, 0.9, 48000);
        Bench bench("[scope.bench]\non = true\n" + binding("notice = \"go\"", "play = \"tone\"", "scope = \"bench\"") +
                        binding("every = \"100 ms\"", "notice = \"tick\"", "scope = \"bench\"") +
                        binding("notice = \"tick\"", "nothing = true"),
                    signal);
        bench.engine.notice("go");
        std::vector<float> out = render(bench.engine, 7777, 333);
        bench.engine.pause_scope("bench");
        auto more = render(bench.engine, 12345, 333);
        const Signal still = side(more, 0);
        CHECK(peak(Signal(still.begin() + 600, still.end())) == 0);
        out.insert(out.end(), more.begin(), more.end());
        CHECK(bench.engine.sounding() == 1);
        bench.engine.notice("go");
        bench.engine.resume_scope("bench");
        more = render(bench.engine, 60000, 333);
        out.insert(out.end(), more.begin(), more.end());
        bench.engine.poll();
        // 48,000 frames were heard, however long the pause was; they include the fade before it.
        const auto ended = with_outcome(bench.log, Outcome::ended);
        REQUIRE(ended.size() == 1);
        CHECK(ended[0].frame == 48000 + 12345 - 480);
        CHECK(with_outcome(bench.log, Outcome::scope_paused).size() == 1);
        CHECK(db(largest_second_difference(side(out, 0)) - largest_second_difference(signal)) < -80);
        // The timer was paused as well: 100 ms of its own time.
        const auto ticks = with_outcome(bench.log, Outcome::done);
        std::vector<kiai::Frames> at;
        for (const auto& tick : ticks)
            if (tick.trigger == kiai::ReportKind::every) at.push_back(tick.frame);
        REQUIRE(at.size() > 3);
        CHECK(at[0] == 4800);
        CHECK(at[1] == 9600 + 12345);
        CHECK(at[2] == 14400 + 12345);
    }
}

TEST_CASE("Pausing sounds, buses and plays is the same, by action and by call", "[pause]") {
    Bench bench("[bus.low]\n" + hum + "bus = \"low\"\n" + binding("notice = \"p\"", "pause = { bus = \"low\" }") +
                    binding("notice = \"r\"", "resume = { everything = true }"),
                sine(1000, 0.5, 480));
    kiai::Play play = bench.engine.play("hum");
    CHECK(play.state() == kiai::PlayState::asked);
    bench.decided(4800);
    CHECK(play.state() == kiai::PlayState::playing);
    const auto paused = [&] {
        bench.decided(4800);
        const Signal left = side(bench.heard, 0);
        return peak(Signal(left.begin() + 600, left.end())) == 0 && play.state() == kiai::PlayState::paused;
    };
    bench.engine.notice("p");
    CHECK(paused());
    bench.engine.notice("p");
    CHECK(paused());
    bench.engine.notice("r");
    CHECK_FALSE(paused());
    CHECK(play.elapsed().count() == Approx((4800 + 480 + 4800) / 48000.0).epsilon(0.001));
    bench.engine.pause("hum");
    CHECK(paused());
    bench.engine.resume("hum");
    play.pause();
    CHECK(paused());
    play.set_gain(-6); // it comes back so
    play.resume();
    bench.decided(4800);
    CHECK(peak(Signal(bench.heard.begin() + 2400, bench.heard.end())) == Approx(0.5 * 0.5012).epsilon(0.01));
    play.pause();
    CHECK(paused());
    play.stop(); // nothing of it is heard, so it ends soon
    bench.everything(600);
    CHECK(play.state() == kiai::PlayState::ended);
    CHECK(peak(bench.heard) == 0);
}

TEST_CASE("Timers come at their exact frames, and do not drift in ten hours", "[timer]") {
    Bench bench(binding("after = \"250 ms\"", "play = \"tone\"") + binding("every = \"0.3333 s\"", "nothing = true"));
    CHECK(frames_of(bench, Outcome::played, 48000, 100) == std::vector<kiai::Frames>{12000});
    kiai::Engine long_run(project_of(Signal(1, 0.1f), binding("every = \"7.7777 s\"", "nothing = true")),
                          {.seed = 1, .decide_only = true});
    std::vector<kiai::Frames> ticks;
    long_run.set_log([&](const kiai::Decision& decision) {
        if (decision.outcome == Outcome::done) ticks.push_back(decision.frame);
    });
    std::vector<float> block(2 * 48000);
    for (int second = 0; second < 36000; ++second) {
        long_run.render(block);
        long_run.poll();
    }
    REQUIRE(ticks.size() == static_cast<std::size_t>(36000 / 7.7777));
    for (std::size_t n = 0; n < ticks.size(); ++n)
        REQUIRE(ticks[n] == static_cast<kiai::Frames>(std::floor(static_cast<double>(n + 1) * 7.7777 * 48000 + 0.5)));
}

TEST_CASE("Start fires at the first frame, ended after the last, at any block size", "[timer]") {
    for (const kiai::Frames block : {1, 64, 100, 4096}) {
        Bench bench(binding("start = true", "play = \"tone\"") +
                        binding("ended = \"tone\"", "play = \"tone\"", "once = true"),
                    Signal(1000, 0.1f));
        const auto played = frames_of(bench, Outcome::played, 5000, block);
        CHECK(played == std::vector<kiai::Frames>{0, 1024}); // the first cell of the clock at or after its end
    }
}

TEST_CASE("A sequence plays, waits, repeats and runs side by side, at exact frames and any block size", "[sequence]") {
    const std::string text = "[sequence.finish]\nsteps = [\n"
                             "{ play = \"tone\" }, { wait = \"end\" },\n"
                             "{ repeat = 2, steps = [{ play = \"tone\", gain = -6 }, { wait = \"0.5 s\" }] },\n"
                             "{ together = [[{ wait = \"100 ms\" }, { notice = \"a\" }], [{ wait = \"200 ms\" }, "
                             "{ notice = \"b\" }]] },\n{ notice = \"over\" }]\n" +
                             binding("notice = \"go\"", "run = \"finish\"") +
                             binding("notice = \"a\"", "nothing = true") + binding("notice = \"b\"", "nothing = true") +
                             binding("notice = \"over\"", "nothing = true");
    for (const kiai::Frames block : {1, 333, 4096}) {
        Bench bench(text);
        bench.engine.notice("go");
        std::vector<std::pair<kiai::Frames, std::string>> all;
        for (kiai::Frames done = 0; done < 60000; done += block)
            for (const auto& one : bench.decided(block))
                if (one.outcome == Outcome::played || (one.trigger == kiai::ReportKind::notice && one.on != "go"))
                    all.emplace_back(one.frame, one.outcome == Outcome::played ? "tone" : one.on);
        const kiai::Frames first = 1024, second = first + 24000, side = second + 24000;
        const decltype(all) expected{{0, "tone"},        {first, "tone"},    {second, "tone"},
                                     {side + 4800, "a"}, {side + 9600, "b"}, {side + 9600, "over"}};
        CHECK(all == expected);
    }
}

TEST_CASE("A sequence whose waits are shorter than a frame does not hold up the rest", "[sequence]") {
    Bench bench("[sequence.spin]\nsteps = [{ repeat = 0, steps = [{ notice = \"n\" }, { wait = \"0.001 ms\" }] }]\n" +
                binding("notice = \"go\"", "run = \"spin\"") + binding("notice = \"n\"", "nothing = true"));
    bench.engine.notice("go");
    const auto turns = bench.decided(640).size();
    CHECK(turns > 100);
    CHECK(turns < 30000); // some 21 waits make a frame
}

TEST_CASE("A sequence ends with its scope, with a stop, and an endless repeat without a wait returns", "[sequence]") {
    Bench bench(hum +
                "[scope.s]\non = true\n[sequence.run]\nscope = \"s\"\nsteps = [{ play = \"hum\" }, { wait = \"1 s\" "
                "}, { play = \"tone\" }]\n[sequence.spin]\nsteps = [{ repeat = 0, steps = [{ play = \"quiet\" }, { "
                "wait = \"end\" }] }]\n[sound.quiet]\ntakes = [\"tone\"]\nlimit = { plays = 1, full = \"refuse\" }\n" +
                binding("notice = \"go\"", "run = \"run\"") +
                binding("notice = \"stop\"", "stop = { sequence = \"run\" }") +
                binding("notice = \"spin\"", "run = \"spin\"") +
                binding("notice = \"halt\"", "stop = { sequence = \"spin\" }"));
    bench.engine.notice("go");
    CHECK(bench.told() == "done, done, played hum");
    bench.engine.notice("stop");
    CHECK(bench.told(96000) == "stopped");
    CHECK(bench.engine.sounding() == 0);
    bench.engine.notice("go");
    bench.decided();
    bench.engine.leave_scope("s");
    CHECK(bench.told(96000) == "done");
    CHECK(bench.engine.sounding() == 0);
    bench.engine.run("run");
    CHECK(bench.told() == "scope-off");
    bench.engine.play("quiet"); // takes the only place, so that the sequence's own is refused again and again
    bench.engine.notice("spin");
    CHECK(bench.decided(100).size() > 100);
    bench.engine.notice("halt");
    bench.decided(64);
    CHECK(bench.decided(2000).empty());
}
