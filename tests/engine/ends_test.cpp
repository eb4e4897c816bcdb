// The ends of plays: any number of stops, faulty callbacks, old handles.
#include "support/bench.h"

#include <catch2/catch.hpp>

#include <stdexcept>

using namespace support;
using kiai::Outcome;
using kiai::Seconds;

TEST_CASE("Of any number of stops the one that ends soonest counts, smoothly", "[stop]") {
    Bench bench("[sound.s]\ntakes = [\"tone\"]\nloop = true\n", Signal(480, 0.5f));
    kiai::Play play = bench.engine.play("s");
    std::vector<float> heard = render(bench.engine, 4800);
    // Each stop is at a frame of its own, and ends sooner than those before.
    for (int i = 0; i < 40; ++i) {
        play.stop(Seconds(30.0 / (1 + i)));
        const auto part = render(bench.engine, 48);
        heard.insert(heard.end(), part.begin(), part.end());
    }
    play.stop(Seconds(0.01));
    const auto rest = render(bench.engine, 2400);
    heard.insert(heard.end(), rest.begin(), rest.end());
    CHECK_FALSE(play.playing());
    CHECK(play.elapsed().count() < 0.16);
    // Without the start, which is a step in the recording.
    const Signal left = side(heard, 0);
    const Signal part(left.begin() + 500, left.end());
    CHECK(db(largest_inner_second_difference(part)) <= -80);
}

TEST_CASE("A stop within the first milliseconds of a rise, and a short fade-in, do not click", "[stop][clicks]") {
    for (const char* keys : {"start = \"50 ms\"\n", "fade-in = \"1 ms\"\n"})
        for (kiai::Frames after = 0; after <= 300; after += 20) {
            Bench bench(std::string("[sound.s]\ntakes = [\"tone\"]\n") + keys, Signal(9600, 0.9f));
            kiai::Play play = bench.engine.play("s");
            std::vector<float> heard = after > 0 ? render(bench.engine, after) : std::vector<float>();
            play.stop(Seconds(0));
            const auto rest = render(bench.engine, 2000);
            heard.insert(heard.end(), rest.begin(), rest.end());
            INFO(keys << "stopped after " << after << " frames");
            CHECK(db(largest_second_difference(side(heard, 0))) <= -80);
        }
}

TEST_CASE("Callbacks that throw harm nothing that comes later, and are reported once", "[callback]") {
    Bench bench("[sound.s]\ntakes = [\"tone\"]\n");
    std::vector<kiai::Finding> findings;
    bench.engine.set_findings([&](const kiai::Finding& finding) { findings.push_back(finding); });
    int called = 0;
    for (int i = 0; i < 6; ++i) {
        kiai::Play play = bench.engine.play("tone");
        play.on_ended([&, i](kiai::EndReason) {
            ++called;
            if (i % 2 == 0) throw std::runtime_error("oops");
            if (i == 3) throw 7;
        });
    }
    bench.everything(2000);
    CHECK(called == 6);
    REQUIRE(findings.size() == 1);
    CHECK(findings[0].code == kiai::FindingCode::callback_threw);
    CHECK(findings[0].message.find("oops") != std::string::npos);

    int logged = 0;
    bench.engine.set_log([&](const kiai::Decision&) {
        ++logged;
        throw std::runtime_error("log");
    });
    bench.engine.play("s");
    bench.engine.play("s");
    static_cast<void>(render(bench.engine, 64));
    bench.engine.poll();
    CHECK(logged >= 2);
}

TEST_CASE("A log callback may set another, and may destroy the engine", "[callback]") {
    int first = 0, second = 0;
    auto engine = std::make_unique<kiai::Engine>(project_of(Signal(100, 0.1f)), kiai::EngineSettings{.seed = 1});
    engine->set_log([&](const kiai::Decision&) {
        ++first;
        engine->set_log([&](const kiai::Decision&) {
            ++second;
            engine.reset();
        });
    });
    for (int i = 0; i < 3; ++i) engine->play("tone");
    static_cast<void>(render(*engine, 64));
    engine->poll();
    CHECK(first == 1);
    CHECK(second >= 1);
    CHECK(engine == nullptr);
}

TEST_CASE("A delayed play that was stopped before its turn does not end the one that has its slot now", "[handle]") {
    // The minimum number of slots, so that they are reused.
    kiai::Engine engine(project_of(Signal(48000, 0.1f)), {.seed = 1, .voices = 1, .reports = 16});
    engine.set_log([](const kiai::Decision&) {});
    kiai::Play asked = engine.play("no-such-sound", {.delay = Seconds(1)});
    asked.stop();
    static_cast<void>(render(engine, 64));
    CHECK_FALSE(asked.playing());
    std::vector<kiai::Play> others;
    for (int i = 0; i < 17; ++i) {
        others.push_back(engine.play("tone", {.layer = 1}));
        if (i < 16) others.back().stop();
        static_cast<void>(render(engine, 300)); // what was stopped has faded
    }
    kiai::Play sounding = others.back();
    REQUIRE(sounding.playing());
    static_cast<void>(render(engine, 43500)); // the turn of the one that was stopped has come
    CHECK(sounding.playing());
    CHECK(engine.sounding() == 1);
}

TEST_CASE("A layer that a sound does not have is reported, and the nearest is heard", "[play]") {
    Bench bench("[sound.s]\ntakes = [\"tone\"]\n");
    bench.engine.play("s", {.layer = 3});
    CHECK(bench.told() == "out-of-range, played s");
    CHECK(bench.log.at(1).layers.size() == 1);
    bench.engine.play("s", {.delay = Seconds(-1)});
    bench.engine.play("s", {.delay = Seconds(4000)});
    CHECK(bench.told().substr(0, 22) == "out-of-range, played s");
}

TEST_CASE("Waits add up to the frame, at every rate", "[sequence]") {
    for (const int rate : {44100, 22050, 48000, 8000}) {
        const kiai::Project project = project_of(
            Signal(10, 0.1f), "[sequence.q]\nsteps = [{ repeat = 400, steps = [{ wait = \"125 ms\" }] }, { play = "
                              "\"tone\" }, { together = [[{ repeat = 100, steps = [{ wait = \"125 ms\" }] }, { play "
                              "= \"tone\" }]] }, { play = \"tone\" }]\n");
        kiai::Engine engine(project, {.sample_rate = rate, .seed = 1});
        std::vector<kiai::Frames> at;
        engine.set_log([&](const kiai::Decision& d) {
            if (d.outcome == Outcome::played) at.push_back(d.frame);
        });
        engine.run("q");
        for (int s = 0; s < 64; ++s) {
            static_cast<void>(render(engine, rate, 1000));
            engine.poll();
        }
        INFO(rate);
        REQUIRE(at.size() == 3);
        CHECK(at[0] == 50 * rate);
        CHECK(at[1] == 50 * rate + rate * 25 / 2);
        CHECK(at[2] == at[1]);
    }
}
