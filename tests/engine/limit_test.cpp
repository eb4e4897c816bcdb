// How plays of a sound may overlap: each rule, at its exact frame.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

using namespace support;
using kiai::Outcome;

namespace {

struct Bench {
    explicit Bench(const std::string& limit, kiai::EngineSettings settings = {.seed = 1})
        : engine(project_of(sine(300, 0.2, 4800), "[sound.s]\ntakes = [\"tone\"]\nlimit = " + limit + "\n"), settings) {
        engine.set_log([this](const kiai::Decision& decision) { log.push_back(decision); });
    }
    void play_at(kiai::Frames frame) { engine.report({kiai::ReportKind::play, "s", {}, {}, 0, {}}, frame); }
    void run(kiai::Frames frames) {
        out = side(render(engine, frames), 0);
        engine.poll();
    }
    std::size_t count(Outcome outcome) const { return with_outcome(log, outcome).size(); }

    kiai::Engine engine;
    std::vector<kiai::Decision> log;
    Signal out;
};

} // namespace

TEST_CASE("The least gap refuses what comes too soon, to the frame", "[limit]") {
    Bench bench("{ gap = \"10 ms\" }"); // 480 frames
    for (const kiai::Frames frame : {0, 479, 480, 959, 1000}) bench.play_at(frame);
    bench.run(10000);
    const auto played = with_outcome(bench.log, Outcome::played),
               refused = with_outcome(bench.log, Outcome::refused_gap);
    REQUIRE(played.size() == 3);
    CHECK(played[1].frame == 480);
    CHECK(played[2].frame == 1000); // the gap runs from the last accepted start, not from a refused one
    REQUIRE(refused.size() == 2);
    CHECK(refused[0].frame == 479);
    CHECK(refused[1].frame == 959);
}

TEST_CASE("A gap may be given in frames", "[limit]") {
    Bench bench("{ gap = \"2 frames\" }");
    for (const kiai::Frames frame : {0, 1, 2}) bench.play_at(frame);
    bench.run(100);
    CHECK(bench.count(Outcome::played) == 2);
    CHECK(bench.count(Outcome::refused_gap) == 1);
}

TEST_CASE("end-oldest: the oldest gives way with a fade, and the log names both", "[limit]") {
    Bench bench("{ plays = 2, full = \"end-oldest\" }");
    for (const kiai::Frames frame : {0, 100, 200}) bench.play_at(frame);
    bench.run(10000);
    CHECK(bench.count(Outcome::played) == 3);
    const auto gave_way = with_outcome(bench.log, Outcome::gave_way);
    REQUIRE(gave_way.size() == 1);
    CHECK(gave_way[0].frame == 200);
    CHECK(gave_way[0].play == 1);
    CHECK(gave_way[0].other == 3);
    const auto ended = with_outcome(bench.log, Outcome::ended);
    REQUIRE(ended.size() == 3);
    CHECK(ended[0].play == 1);
    CHECK(ended[0].reason == kiai::EndReason::gave_way);
    CHECK(ended[0].frame == 200 + 480); // a fade of 10 ms
    CHECK(ended[0].ended_by == gave_way[0].cause);
    CHECK(ended[1].reason == kiai::EndReason::finished);
    CHECK(ended[1].frame == 100 + 4800);
}

TEST_CASE("What gave way counts no longer, though it still fades", "[limit]") {
    Bench bench("{ plays = 1 }");
    for (const kiai::Frames frame : {0, 10, 20, 30}) bench.play_at(frame);
    bench.run(10000);
    const auto gave_way = with_outcome(bench.log, Outcome::gave_way);
    REQUIRE(gave_way.size() == 3);
    for (std::uint32_t i = 0; i < 3; ++i) CHECK(gave_way[i].play == i + 1);
}

TEST_CASE("refuse: the newcomer is refused, and nothing else changes", "[limit]") {
    Bench alone("{ plays = 1, full = \"refuse\" }"), crowded("{ plays = 1, full = \"refuse\" }");
    alone.play_at(0);
    alone.run(10000);
    for (const kiai::Frames frame : {0, 1, 2000, 4799}) crowded.play_at(frame);
    crowded.run(10000);
    CHECK(crowded.count(Outcome::played) == 1);
    CHECK(crowded.count(Outcome::refused_limit) == 3);
    CHECK(crowded.out == alone.out);
}

TEST_CASE("A play that ends at a frame makes room at that frame", "[limit]") {
    Bench bench("{ plays = 1, full = \"refuse\" }");
    bench.play_at(0);
    bench.play_at(4800);
    bench.run(10000);
    CHECK(bench.count(Outcome::played) == 2);
}

TEST_CASE("The gap is looked at before the limit", "[limit]") {
    Bench bench("{ plays = 1, gap = \"1 s\", full = \"refuse\" }");
    bench.play_at(0);
    bench.play_at(10);
    bench.run(100);
    CHECK(bench.count(Outcome::refused_gap) == 1);
    CHECK(bench.count(Outcome::refused_limit) == 0);
}

TEST_CASE("Without a word about it, eight plays of a sound overlap", "[limit]") {
    Bench bench("{}");
    for (kiai::Frames frame = 0; frame < 20; ++frame) bench.play_at(frame);
    bench.run(100);
    CHECK(bench.count(Outcome::gave_way) == 12);
    CHECK(bench.engine.sounding() == 20); // twelve still fade
}

TEST_CASE("An engine without a free voice refuses, and says so", "[limit]") {
    Bench bench("{ plays = 100 }", {.seed = 1, .voices = 3});
    for (kiai::Frames frame = 0; frame < 5; ++frame) bench.play_at(frame);
    bench.run(10000);
    CHECK(bench.count(Outcome::played) == 3);
    CHECK(bench.count(Outcome::refused_full) == 2);
    bench.play_at(10000);
    bench.run(100);
    CHECK(bench.count(Outcome::played) == 4); // they are free again
}

TEST_CASE("A sound of two layers plays whole or not at all", "[limit]") {
    const kiai::Project project = project_of(
        Signal(1000, 0.1f), "[[sound.two.layer]]\ntakes = [\"tone\"]\n[[sound.two.layer]]\ntakes = [\"tone\"]\n");
    kiai::Engine engine(project, {.seed = 1, .voices = 3});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    engine.play("two");
    engine.play("two");
    const Signal out = side(render(engine, 500), 0);
    engine.poll();
    CHECK(with_outcome(log, Outcome::refused_full).size() == 1);
    CHECK(out[300] == Approx(0.2f));
    CHECK(with_outcome(log, Outcome::played).front().layers.size() == 2);
}
