// Controls of current plays from code: one play by its handle, or a sound, a bus, a scope, a sequence, everything.
#include "support/bench.h"
#include "support/signal.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <functional>

using namespace support;
using kiai::Target;
using std::chrono::milliseconds;

namespace {

/// The output without the latency; `act` is called at frame 9600.
struct Run {
    explicit Run(const std::string& text, const Signal& samples, const std::function<void(kiai::Engine&)>& begin,
                 const std::function<void(kiai::Engine&)>& act, kiai::Frames block = 256)
        : engine(project_of(samples, text), {.seed = 1}) {
        engine.set_log([this](const kiai::Decision& decision) { log.push_back(decision); });
        begin(engine);
        std::vector<float> all = render(engine, 9600, block);
        act(engine);
        const std::vector<float> rest = render(engine, 48000 + engine.latency(), block);
        all.insert(all.end(), rest.begin(), rest.end());
        all.erase(all.begin(), all.begin() + engine.latency() * 2);
        engine.poll();
        left = side(all, 0), right = side(all, 1);
    }
    kiai::Engine engine;
    std::vector<kiai::Decision> log;
    Signal left, right;
};

double click(const Signal& out, const Signal& own) {
    return db(std::max(1e-12, largest_inner_second_difference(Signal(out.begin() + 100, out.end())) -
                                  largest_inner_second_difference(own)));
}

/// Returns the decisions after the start of the play.
std::vector<std::string> lines(const std::vector<kiai::Decision>& log) {
    std::vector<std::string> all;
    for (const kiai::Decision& decision : log)
        if (decision.outcome != kiai::Outcome::ended && decision.trigger != kiai::ReportKind::play)
            all.push_back(kiai::describe(decision));
    return all;
}

} // namespace

TEST_CASE("A handle moves the gain, the pitch and the pan of its play over a time, without a click", "[control]") {
    const Signal tone = sine(600, 0.4, 48000);
    kiai::Play play;
    const auto begin = [&](kiai::Engine& engine) { play = engine.play("hum"); };
    SECTION("gain") {
        const Run run(hum, tone, begin, [&](kiai::Engine&) { play.set_gain(-12, milliseconds(200)); });
        CHECK(db(rms(run.left, 9600 + 4800 - 480, 9600 + 4800 + 480) / rms(tone, 0, 960)) ==
              Approx(db((1 + std::pow(10, -0.6)) / 2)).margin(0.1));
        CHECK(db(fit_sine(run.left, 600, 20000, 40000).amplitude / 0.4) == Approx(-12).margin(0.01));
        CHECK(click(run.left, tone) <= -80);
    }
    SECTION("pitch") {
        const Run run(hum, tone, begin, [&](kiai::Engine&) { play.set_pitch(7, milliseconds(300)); });
        CHECK(fit_sine(run.left, 600, 2000, 9000).snr_db() > 80);
        const double higher = 600 * std::pow(2, 7 / 12.0);
        CHECK(fit_sine(run.left, higher, 26000, 26000 + 9600).snr_db() > 80);
        CHECK(fit_sine(run.left, higher, 26000, 26000 + 9600).amplitude == Approx(0.4).margin(0.001));
        CHECK(click(run.left, sine(higher, 0.4, 48000)) <= -80);
    }
    SECTION("pan") {
        const Run run(hum, tone, begin, [&](kiai::Engine&) { play.set_pan(1, milliseconds(100)); });
        CHECK(db(rms(run.right, 20000, 40000) / rms(tone, 0, 20000)) == Approx(3.01).margin(0.01));
        CHECK(rms(run.left, 20000, 40000) < 1e-6);
        CHECK(click(run.left, tone) <= -80);
        CHECK(click(run.right, sine(600, 0.4 * std::sqrt(2), 48000)) <= -80);
    }
    SECTION("all at once, the same whatever the blocks") {
        const auto out = [&](kiai::Frames block) {
            const Run run(
                hum + "vary = { pitch = 2 }\n", tone, begin,
                [&](kiai::Engine&) {
                    play.set_pitch(-5, milliseconds(50));
                    play.set_pan(-0.5f, milliseconds(70));
                    play.set_gain(3);
                },
                block);
            return std::pair(run.left, run.right);
        };
        const auto reference = out(500);
        for (const kiai::Frames block : {7, 64, 1000}) CHECK(out(block) == reference);
    }
}

TEST_CASE("What is set as a play is asked for holds from its first frame", "[control]") {
    const Signal tone = sine(500, 0.4, 48000);
    kiai::Play play;
    const Run run(
        "[sound.s]\ntakes = ['tone']\n", tone,
        [&](kiai::Engine& engine) {
            play = engine.play("s");
            play.set_pitch(12, milliseconds(500));
            play.set_pan(-1);
        },
        [](kiai::Engine&) {});
    CHECK(fit_sine(run.left, 1000, 200, 9000).snr_db() > 80);
    CHECK(rms(run.right, 0, 9000) < 1e-6);
    CHECK(play.number() == 1);
}

TEST_CASE("A paused play keeps where its pitch was going", "[control]") {
    kiai::Play play;
    const Signal tone = sine(500, 0.4, 96000);
    const Run run(
        hum, tone, [&](kiai::Engine& engine) { play = engine.play("hum"); },
        [&](kiai::Engine& engine) {
            play.set_pitch(5, milliseconds(400));
            render(engine, 4800);
            play.pause();
            render(engine, 24000);
            play.resume();
        });
    const double higher = 500 * std::pow(2, 5 / 12.0);
    CHECK(fit_sine(run.left, higher, 9600 + 20000, 9600 + 40000).snr_db() > 60);
    CHECK(play.playing());
}

TEST_CASE("A number that is none, or out of range, is said, and changes nothing or as far as it may", "[control]") {
    Bench bench(hum, sine(500, 0.4, 48000));
    kiai::Play play = bench.engine.play("hum");
    bench.decided();
    play.set_pitch(NAN);
    play.set_pan(0, kiai::Seconds(INFINITY));
    CHECK(bench.told() == "bad-number, bad-number");
    play.set_pan(-7);
    CHECK(bench.told() == "out-of-range, done hum");
    CHECK(rms(side(render(bench.engine, 9600), 1), 4800, 9600) < 1e-6);
}

TEST_CASE("A play from code rises, begins inside its clip, and lasts for the requested time", "[control]") {
    const Run run(
        "[sound.s]\ntakes = ['tone']\n", Signal(96000, 0.5f),
        [](kiai::Engine& engine) {
            engine.play("s", {.fade_in = milliseconds(50), .start = kiai::Seconds(1.5), .length = milliseconds(300)});
        },
        [](kiai::Engine&) {});
    CHECK(run.left[1200] == Approx(0.25).margin(0.01));
    CHECK(run.left[2400] == Approx(0.5).margin(1e-4));
    CHECK(run.left[14400 - 10] == Approx(0.5).margin(1e-4));
    CHECK(peak(Signal(run.left.begin() + 14400 + 490, run.left.end())) == 0);
    const Run late(
        "[sound.s]\ntakes = ['tone']\n", Signal(48000, 0.5f),
        [](kiai::Engine& engine) { engine.play("s", {.start = kiai::Seconds(0.9)}); }, [](kiai::Engine&) {});
    CHECK(with_outcome(late.log, kiai::Outcome::ended).at(0).length == 4800);
}

TEST_CASE("A sound, a bus, a scope, a sequence and everything are stopped with a fade, paused and resumed",
          "[control]") {
    const std::string text = "[bus.low]\n[bus.high]\n[scope.bench]\non = true\n"
                             "[sound.a]\ntakes = ['tone']\nloop = true\nbus = 'low'\n"
                             "[sound.b]\ntakes = ['tone']\nloop = true\nbus = 'high'\n"
                             "[sequence.runs]\nsteps = [{ play = 'b' }, { wait = '1 s' }, { play = 'a' }]\n";
    Bench bench(text, sine(500, 0.2, 48000));
    kiai::Engine& engine = bench.engine;
    const auto begin = [&] {
        engine.play("a");
        engine.play("a", {}, "bench");
        engine.run("runs");
        bench.decided(4800);
    };
    const auto after = [&](kiai::Frames frames) {
        bench.decided(frames);
        return engine.sounding();
    };
    begin();
    CHECK(engine.sounding() == 3);
    SECTION("a bus") {
        engine.stop(Target::bus("low"), milliseconds(100));
        CHECK(after(4790) == 3);
        CHECK(lines(bench.log) == std::vector<std::string>{"stop low: stopped bus low, 2 plays"});
        CHECK(after(20) == 1);
    }
    SECTION("a scope") {
        engine.stop(Target::scope("bench"));
        CHECK(after(1000) == 2);
        CHECK(lines(bench.log) == std::vector<std::string>{"stop bench: stopped scope bench, 1 play"});
    }
    SECTION("a sequence, with what it has played and would play") {
        engine.stop(Target::sequence("runs"), milliseconds(20));
        CHECK(after(96000) == 2);
        CHECK(lines(bench.log) == std::vector<std::string>{"stop runs: stopped sequence runs, 2 plays"});
    }
    SECTION("a sound, with a fade") {
        engine.stop("a", milliseconds(50));
        CHECK(after(2410) == 1);
    }
    SECTION("everything") {
        engine.stop(Target::everything(), milliseconds(20));
        CHECK(after(96000) == 0);
        engine.stop(Target::everything());
        bench.decided();
        CHECK(lines(bench.log) == std::vector<std::string>{"stop: ignored: no play of everything to stop"});
    }
    SECTION("paused and resumed") {
        const auto level = [&] {
            bench.decided(4800);
            return db(rms(side(bench.heard, 0), 2400, 4800) / (0.2 * std::sqrt(0.5)));
        };
        const double three = level();
        engine.pause(Target::bus("low"));
        CHECK(level() == Approx(three - db(3)).margin(0.5));
        engine.pause(Target::everything());
        CHECK(level() < -150);
        engine.resume(Target::everything());
        CHECK(level() == Approx(three).margin(1));
        engine.pause(Target::scope("bench"));
        CHECK(level() < three - 2);
        CHECK(lines(bench.log) == std::vector<std::string>{"pause bench: paused scope bench, 1 play"});
    }
    SECTION("names that nobody has") {
        engine.stop(Target::bus("lwo"));
        engine.restart(Target::sequence("run"));
        engine.pause(Target::scope("nowhere"));
        bench.decided();
        CHECK(lines(bench.log) ==
              std::vector<std::string>{"stop: ignored: unknown bus \"lwo\"; did you mean \"low\"?",
                                       "restart: ignored: unknown sequence \"run\"; did you mean \"runs\"?",
                                       "pause: ignored: unknown scope \"nowhere\""});
    }
}

TEST_CASE("A sound, a bus, a scope and a sequence restart", "[control]") {
    const std::string text = "[bus.low]\n[scope.bench]\non = true\n"
                             "[sound.a]\ntakes = ['tone']\nloop = true\nbus = 'low'\nlimit = { plays = 1 }\n"
                             "[sound.b]\ntakes = ['tone']\nloop = true\n"
                             "[sequence.runs]\nsteps = [{ play = 'b' }, { wait = '1 s' }, { play = 'a' }]\n" +
                             binding("scope-enter = 'bench'", "play = 'b'");
    Bench bench(text, sine(500, 0.2, 48000));
    kiai::Engine& engine = bench.engine;
    const auto told = [&](kiai::Frames frames) { return bench.told(frames); };
    engine.play("a");
    told(4800);
    engine.restart("a");
    CHECK(told(4800) == "stopped a, played a");
    engine.restart(Target::bus("low"));
    CHECK(told(4800) == "stopped a, played a, done");
    engine.restart(Target::scope("bench"));
    CHECK(told(4800) == "done, done, played b");
    engine.run("runs");
    CHECK(told(24000) == "done, played b");
    engine.restart(Target::sequence("runs"));
    CHECK(told(36000) == "done, played b");
    CHECK(told(24000) == "stolen a, played a, over");
}

TEST_CASE("A movement that continues in every frame is one line of the log, for each thing that moves", "[control]") {
    Bench bench(hum, sine(500, 0.4, 48000));
    kiai::Play play = bench.engine.play("hum");
    bench.decided(4800);
    std::vector<std::string> said;
    const auto frame = [&](int number) {
        play.set_pitch(0.01f * static_cast<float>(number));
        if (number % 2 == 0) play.set_gain(-0.1f * static_cast<float>(number));
        for (const kiai::Decision& one : bench.decided(800)) said.push_back(describe(one));
    };
    for (int number = 0; number < 120; ++number) frame(number);
    CHECK(said ==
          std::vector<std::string>{"play-pitch: set pitch of hum #1 to 0 st", "play-gain: set gain of hum #1 to 0 dB"});
    said.clear();
    bench.decided(14400);
    frame(120);
    CHECK(said == std::vector<std::string>{"play-pitch: set pitch of hum #1 to 1.2 st",
                                           "play-gain: set gain of hum #1 to -12 dB"});
}

TEST_CASE("What is played again stays on its bus and in its scope, and its plays elsewhere continue", "[control]") {
    const kiai::Project project = project_of(
        Signal(4000, 0.01f), "[bus.high]\n[bus.low]\n[scope.room]\n[sound.hum]\ntakes = [\"tone\"]\nloop = true\n");
    kiai::Engine engine(project, {.seed = 1});
    engine.enter_scope("room");
    const kiai::Play kept = engine.play("hum", {.bus = "low"});
    const kiai::Play stopped = engine.play("hum", {.bus = "high"}, "room");
    static_cast<void>(render(engine, 480));
    engine.restart(Target::bus("high"));
    static_cast<void>(render(engine, 4800));
    CHECK(kept.playing());
    CHECK_FALSE(stopped.playing());
    const std::vector<kiai::PlayingNow> plays = engine.plays();
    REQUIRE(plays.size() == 2);
    const auto again = std::find_if(plays.begin(), plays.end(), [](const auto& one) { return one.bus == "high"; });
    REQUIRE(again != plays.end());
    CHECK(again->scope == "room");
    engine.leave_scope("room");
    static_cast<void>(render(engine, 48000));
    CHECK(engine.plays().size() == 1);
}

TEST_CASE("A play that was stopped while it was paused is not held up by another pause", "[control]") {
    kiai::Engine engine(project_of(Signal(4000, 0.01f), "[sound.hum]\ntakes = [\"tone\"]\nloop = true\n"), {.seed = 1});
    kiai::Play play = engine.play("hum");
    static_cast<void>(render(engine, 4800));
    play.pause();
    static_cast<void>(render(engine, 4800));
    SECTION("by its handle") {
        play.stop();
        play.pause();
    }
    SECTION("with everything that is playing") {
        engine.stop("hum");
        engine.pause(Target::everything());
    }
    static_cast<void>(render(engine, 4800));
    CHECK_FALSE(play.playing());
}
