// What a handle knows about its play, why a play did not start, and the entries of a project.
#include "support/bench.h"
#include "support/places.h"
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <limits>

using namespace support;
using kiai::EndReason;
using kiai::NameList;

namespace {

const std::string one_at_once =
    "[sound.hum]\ntakes = [\"tone\"]\nloop = true\nlimit = { plays = 1, full = \"refuse\" }\n"
    "[sound.often]\ntakes = [\"tone\"]\nlimit = { gap = \"1 s\" }\n"
    "[sound.later]\npending = true\n[scope.level]\n";

EndReason reason_after(Bench& bench, kiai::Play play) {
    bench.everything(64);
    CHECK_FALSE(play.playing());
    return play.reason();
}

} // namespace

TEST_CASE("A handle reports why its play never began", "[handle]") {
    Bench bench(one_at_once);
    kiai::Play hum = bench.engine.play("hum");
    bench.engine.play("often");
    CHECK(reason_after(bench, bench.engine.play("hum")) == EndReason::refused);
    CHECK(reason_after(bench, bench.engine.play("often")) == EndReason::refused);
    CHECK(reason_after(bench, bench.engine.play("hmu")) == EndReason::unknown_name);
    CHECK(reason_after(bench, bench.engine.play("tone", {}, "levle")) == EndReason::unknown_name);
    CHECK(reason_after(bench, bench.engine.play("tone", {}, "level")) == EndReason::scope_off);
    CHECK(reason_after(bench, bench.engine.play("later")) == EndReason::pending);
    const float not_a_number = std::numeric_limits<float>::quiet_NaN();
    CHECK(reason_after(bench, bench.engine.play("tone", {.gain = not_a_number})) == EndReason::bad_number);
    CHECK(hum.playing());
    CHECK(hum.reason() == EndReason::none);
    hum.stop();
    CHECK(reason_after(bench, bench.engine.play("")) == EndReason::unknown_name);
    bench.everything(4800);
    CHECK(hum.reason() == EndReason::stopped);
    for (int reason = 0; reason <= static_cast<int>(EndReason::last); ++reason) // each has a word of its own
        for (int other = 0; other < reason; ++other)
            CHECK(std::string(to_string(static_cast<EndReason>(reason))) != to_string(static_cast<EndReason>(other)));
}

TEST_CASE("A play that found no room in the engine is lost", "[handle]") {
    kiai::Engine engine(project_of(Signal(48, 0.1f)), {.seed = 1, .reports = 16});
    engine.set_log({});
    std::vector<kiai::Play> plays;
    for (int i = 0; i < 20; ++i) plays.push_back(engine.play("tone"));
    CHECK(plays.back().reason() == EndReason::lost);
    static_cast<void>(render(engine, 64));
    kiai::Play last;
    for (int i = 0; i < 9; ++i) last = engine.play("tone", {.delay = kiai::Seconds(10)}); // the calendar has room for 8
    static_cast<void>(render(engine, 64));
    CHECK(last.reason() == EndReason::lost);
}

TEST_CASE("A handle knows its sound and its number in the log", "[handle]") {
    Bench bench(one_at_once);
    kiai::Play first = bench.engine.play("tone"), second = bench.engine.play("hum"), never = bench.engine.play("hmu");
    CHECK(first.number() == 0); // not begun
    CHECK(first.sound() == "tone");
    const auto log = with_outcome(bench.everything(64), kiai::Outcome::played);
    REQUIRE(log.size() == 2);
    CHECK(first.number() == log[0].play);
    CHECK(second.number() == log[1].play);
    CHECK(second.sound() == "hum");
    CHECK(never.number() == 0);
    CHECK(never.sound() == "hmu");
    bench.everything(4800);
    CHECK_FALSE(first.playing());
    CHECK(first.number() == log[0].play); // after its end, too
    CHECK(kiai::Play().sound().empty());
    CHECK(kiai::Play().number() == 0);
    CHECK(kiai::Play().reason() == EndReason::none);
}

TEST_CASE("A handle outlives its engine, and says so", "[handle]") {
    kiai::Play play;
    {
        kiai::Engine engine(project_of(Signal(48, 0.1f)), {.seed = 1});
        play = engine.play("tone");
    }
    CHECK(play.reason() == EndReason::engine_gone);
    CHECK(play.sound().empty());
    CHECK(play.number() == 0);
    play.stop();
}

TEST_CASE("A project lists what it has by name", "[project]") {
    const kiai::Project project = kiai::load_project(source_folder() + "/examples/marble-run").project;
    CHECK(project.clips().size() == 42);
    CHECK(project.sounds().size() == 14);
    CHECK(project.sounds().has("oak"));
    CHECK_FALSE(project.sounds().has("Oak"));
    CHECK_FALSE(project.sounds().has("oak-1")); // a clip
    CHECK(project.clips().has("oak-1"));
    CHECK(project.dials().size() == 3);
    CHECK(project.dials().has("fill"));
    CHECK(project.scopes() == NameList{"bench", "drawer"});
    CHECK(project.buses().has("main"));
    CHECK(project.buses().has("pieces"));
    CHECK(project.zones().has("hopper"));
    CHECK(project.motions().size() == 1);
    CHECK(project.sequences().size() == 1);
    CHECK(kiai::Project().sounds().empty());
}
