// Limits steal plays: many triggers at one moment sound like what the limit allows.
#include "support/bench.h"

#include <catch2/catch.hpp>

using namespace support;
using kiai::Outcome;

namespace {

std::vector<float> heard(const std::string& limit, int plays, kiai::Frames apart, const Signal& samples) {
    kiai::Engine engine(project_of(samples, "[sound.s]\ntakes = [\"tone\"]\nlimit = " + limit + "\n"), {.seed = 1});
    engine.set_log([](const kiai::Decision&) {});
    for (int i = 0; i < plays; ++i) engine.report({kiai::ReportKind::play, "s", {}, {}, 0, {}}, i * apart);
    return render(engine, 24000);
}

} // namespace

TEST_CASE("Forty triggers at one frame peak as many plays as the limit allows", "[steal]") {
    const Signal samples = sine(300, 0.05, 4800);
    const double one = peak(heard("{ plays = 1 }", 1, 0, samples));
    for (const char* full : {"end-oldest", "end-quietest", "refuse", "restart"}) {
        INFO(full);
        const std::string rule = std::string(", full = \"") + full + "\" }";
        CHECK(db(peak(heard("{ plays = 1" + rule, 40, 0, samples)) / one) <= 0.1);
        if (std::string(full) != "restart")
            CHECK(db(peak(heard("{ plays = 8" + rule, 40, 0, samples)) / one) <= 18.2); // eight at once: 18.06 dB
    }
}

TEST_CASE("What is stolen before it was heard ends in the same frame", "[steal]") {
    Bench bench("[sound.s]\ntakes = [\"tone\"]\nlimit = { plays = 1 }\n");
    kiai::Play first = bench.engine.play("s"), second = bench.engine.play("s");
    bench.everything(1);
    CHECK_FALSE(first.playing());
    CHECK(first.reason() == kiai::EndReason::stolen);
    CHECK(second.playing());
    CHECK(bench.engine.sounding() == 1);
    const auto ended = with_outcome(bench.log, Outcome::ended);
    REQUIRE(ended.size() == 1);
    CHECK(ended[0].length == 0);
    CHECK(ended[0].level == -200);
    CHECK(describe(ended[0]) == "ended s #1 before it was heard: stolen");
}

TEST_CASE("Thousands of triggers at one frame leave room for the last", "[steal]") {
    kiai::Engine engine(project_of(sine(300, 0.05, 4800), "[sound.s]\ntakes = [\"tone\"]\nlimit = { plays = 1 }\n"),
                        {.seed = 1, .voices = 8, .reports = 16384});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& d) { log.push_back(d); });
    for (int i = 0; i < 5000; ++i) engine.play("s");
    static_cast<void>(render(engine, 64));
    engine.poll();
    CHECK(with_outcome(log, Outcome::played).size() == 5000);
    CHECK(with_outcome(log, Outcome::refused_full).empty());
}

TEST_CASE("Triggers a few milliseconds apart do not add up", "[steal]") {
    const Signal samples(24000, 0.05f); // all in phase: the worst there is
    const double one = peak(heard("{ plays = 1 }", 1, 0, samples));
    for (const kiai::Frames apart : {12, 24, 48, 96, 144, 240, 400, 479}) {
        INFO(apart << " frames apart");
        CHECK(db(peak(heard("{ plays = 1 }", 10, apart, samples)) / one) <= 0.5);
    }
    // After 10 ms the earlier play fades while the next starts: those two, and never more.
    for (const kiai::Frames apart : {480, 600, 1000}) {
        INFO(apart << " frames apart");
        CHECK(db(peak(heard("{ plays = 1 }", 10, apart, samples)) / one) <= 6.1);
    }
}

TEST_CASE("The level of a play is that of the sum of its layers", "[steal][level]") {
    const std::string two = "[[sound.two.layer]]\ntakes = [\"tone\"]\n[[sound.two.layer]]\ntakes = [\"tone\"]\n";
    const std::string apart = "[[sound.apart.layer]]\ntakes = [\"tone\"]\npan = -1\n[[sound.apart.layer]]\ntakes = "
                              "[\"tone\"]\npan = 1\n";
    Bench bench(two + apart, sine(300, 0.1, 4800));
    for (const char* name : {"two", "apart"}) {
        bench.engine.play(name);
        bench.everything(9600);
        const auto ended = with_outcome(bench.log, Outcome::ended);
        REQUIRE(ended.size() == 1);
        CHECK(ended[0].level == Approx(db(peak(bench.heard))).margin(0.1));
    }
}
