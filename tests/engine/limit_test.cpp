// How plays of a sound may overlap: each rule, at its exact frame.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace support;
using kiai::Outcome;

namespace {

struct Limited {
    explicit Limited(const std::string& limit, kiai::EngineSettings settings = {.seed = 1})
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

TEST_CASE("The gap refuses a play that comes too soon, to the frame", "[limit]") {
    Limited bench("{ gap = \"10 ms\" }"); // 480 frames
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
    Limited bench("{ gap = \"2 frames\" }");
    for (const kiai::Frames frame : {0, 1, 2}) bench.play_at(frame);
    bench.run(100);
    CHECK(bench.count(Outcome::played) == 2);
    CHECK(bench.count(Outcome::refused_gap) == 1);
}

TEST_CASE("end-oldest: the oldest is stolen with a fade, and the log names both", "[limit]") {
    Limited bench("{ plays = 2, full = \"end-oldest\" }");
    for (const kiai::Frames frame : {0, 100, 200}) bench.play_at(frame);
    bench.run(10000);
    CHECK(bench.count(Outcome::played) == 3);
    const auto stolen = with_outcome(bench.log, Outcome::stolen);
    REQUIRE(stolen.size() == 1);
    CHECK(stolen[0].frame == 200);
    CHECK(stolen[0].play == 1);
    CHECK(stolen[0].other == 3);
    const auto ended = with_outcome(bench.log, Outcome::ended);
    REQUIRE(ended.size() == 3);
    CHECK(ended[0].play == 1);
    CHECK(ended[0].reason == kiai::EndReason::stolen);
    CHECK(ended[0].frame == 200 + 240); // a fade of 5 ms: it was younger than 10 ms
    CHECK(ended[0].ended_by == stolen[0].cause);
    CHECK(ended[1].reason == kiai::EndReason::finished);
    CHECK(ended[1].frame == 100 + 4800);
}

TEST_CASE("What was stolen counts no longer, though it still fades", "[limit]") {
    Limited bench("{ plays = 1 }");
    for (const kiai::Frames frame : {0, 10, 20, 30}) bench.play_at(frame);
    bench.run(10000);
    const auto stolen = with_outcome(bench.log, Outcome::stolen);
    REQUIRE(stolen.size() == 3);
    for (std::uint32_t i = 0; i < 3; ++i) CHECK(stolen[i].play == i + 1);
}

TEST_CASE("refuse: the newcomer is refused, and nothing else changes", "[limit]") {
    Limited alone("{ plays = 1, full = \"refuse\" }"), crowded("{ plays = 1, full = \"refuse\" }");
    alone.play_at(0);
    alone.run(10000);
    for (const kiai::Frames frame : {0, 1, 2000, 4799}) crowded.play_at(frame);
    crowded.run(10000);
    CHECK(crowded.count(Outcome::played) == 1);
    CHECK(crowded.count(Outcome::refused_limit) == 3);
    CHECK(crowded.out == alone.out);
}

TEST_CASE("A play that ends at a frame makes room at that frame", "[limit]") {
    Limited bench("{ plays = 1, full = \"refuse\" }");
    bench.play_at(0);
    bench.play_at(4800);
    bench.run(10000);
    CHECK(bench.count(Outcome::played) == 2);
}

TEST_CASE("The gap is looked at before the limit", "[limit]") {
    Limited bench("{ plays = 1, gap = \"1 s\", full = \"refuse\" }");
    bench.play_at(0);
    bench.play_at(10);
    bench.run(100);
    CHECK(bench.count(Outcome::refused_gap) == 1);
    CHECK(bench.count(Outcome::refused_limit) == 0);
}

TEST_CASE("Without a word about it, eight plays of a sound overlap", "[limit]") {
    Limited bench("{}");
    for (kiai::Frames frame = 0; frame < 20; ++frame) bench.play_at(frame);
    bench.run(100);
    CHECK(bench.count(Outcome::stolen) == 12);
    CHECK(bench.engine.sounding() == 20); // twelve still fade
}

TEST_CASE("Where an engine has no free voice the least audible is stolen, and the log says so", "[limit]") {
    std::string text = "[bus.b]\n";
    for (const int level : {0, 1, 2, 3, 4, 5})
        text +=
            "[sound.s" + std::to_string(level) + "]\ntakes = [\"tone\"]\ngain = -" + std::to_string(6 * level) + "\n";
    text +=
        "[sound.low]\ntakes = [\"tone\"]\npriority = -5\n[sound.high]\ntakes = [\"tone\"]\ngain = -40\npriority = 5\n";
    kiai::Engine engine(project_of(Signal(48000, 0.1f), text), {.seed = 1, .voices = 3});
    std::string told;
    engine.set_findings({});
    engine.set_log([&](const kiai::Decision& d) {
        if (d.outcome == Outcome::ended) return;
        if (d.outcome == Outcome::stolen) {
            CHECK(to_string(d.limit.value()) == "engine");
            CHECK(to_string(d.limit.value().full) == std::string("end-quietest"));
        }
        told += std::string(to_string(d.outcome)) + ' ' + d.sound + ' ';
    });
    const auto play = [&](const char* name) {
        told.clear();
        engine.play(name);
        render(engine, 64);
        engine.poll();
        return told;
    };
    CHECK(play("s1") == "played s1 ");
    CHECK(play("s3") == "played s3 ");
    CHECK(play("s2") == "played s2 ");
    CHECK(play("s0") == "stolen s3 played s0 ");
    CHECK(play("s5") == "refused-full s5 ");   // it is the least audible itself
    CHECK(play("low") == "refused-full low "); // no play is stolen for one of lower priority
    CHECK(play("high") == "stolen s2 played high ");
    CHECK(play("s4") == "refused-full s4 ");
    CHECK(play("s1") == "stolen s1 played s1 "); // ties end the older
}

TEST_CASE("A sound of two layers plays whole or not at all", "[limit]") {
    const kiai::Project project = project_of(
        Signal(1000, 0.1f), "[[sound.two.layer]]\ntakes = [\"tone\"]\n[[sound.two.layer]]\ntakes = [\"tone\"]\n");
    kiai::Engine engine(project, {.seed = 1, .voices = 3});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    engine.play("two");
    engine.play("two");
    const Signal out = side(render(engine, 900), 0);
    engine.poll();
    CHECK(with_outcome(log, Outcome::stolen).size() == 1); // the older one, with both of its layers
    CHECK(out[800] == Approx(0.2f));
    for (const kiai::Decision& played : with_outcome(log, Outcome::played)) CHECK(played.layers.size() == 2);
}

namespace {

/// Sounds `quiet`, `middle` and `loud` of one long tone, 12 dB apart; `text` adds to them.
struct Ladder {
    explicit Ladder(const std::string& text)
        : engine(project_of(sine(300, 0.2, 48000), "[sound.quiet]\ntakes = [\"tone\"]\ngain = -24\nbus = \"pieces\"\n"
                                                   "[sound.middle]\ntakes = [\"tone\"]\ngain = -12\nbus = \"pieces\"\n"
                                                   "[sound.loud]\ntakes = [\"tone\"]\nbus = \"pieces\"\n" +
                                                       text),
                 {.seed = 1}) {
        engine.set_log([this](const kiai::Decision& decision) { log.push_back(decision); });
    }
    void play(const std::vector<std::string>& names) {
        for (const std::string& name : names) {
            engine.play(name);
            render(engine, 100);
        }
        engine.poll();
    }
    std::string story() const {
        std::string text;
        for (const kiai::Decision& decision : log) {
            if (decision.outcome == Outcome::played) text += "+" + decision.sound + " ";
            if (decision.outcome == Outcome::stolen) text += "-" + decision.sound + " ";
            if (decision.outcome == Outcome::refused_limit) text += "!" + decision.sound + " ";
        }
        return text;
    }
    kiai::Engine engine;
    std::vector<kiai::Decision> log;
};

} // namespace

TEST_CASE("end-quietest: the quietest is stolen, the newcomer among them, ties end the older", "[limit]") {
    const std::string bus = "[bus.pieces]\nlimit = { plays = 2, full = \"end-quietest\" }\n";
    Ladder one(bus);
    one.play({"loud", "quiet", "middle"});
    CHECK(one.story() == "+loud +quiet -quiet +middle ");
    Ladder two(bus);
    two.play({"loud", "middle", "quiet"});
    CHECK(two.story() == "+loud +middle !quiet ");
    CHECK(describe(with_outcome(two.log, Outcome::refused_limit)[0]) ==
          "play quiet: refused quiet: limit of bus pieces (2 plays, maximum 2, end-quietest)");
    Ladder same(bus);
    same.play({"middle", "middle", "middle"});
    REQUIRE(with_outcome(same.log, Outcome::stolen).size() == 1);
    CHECK(with_outcome(same.log, Outcome::stolen)[0].play == 1);
    CHECK(describe(with_outcome(same.log, Outcome::stolen)[0]) ==
          "play middle: stolen middle #1 for #3: limit of bus pieces (2 plays, maximum 2, end-quietest)");
}

TEST_CASE("The quietest is the one that is quiet just now, by its own envelope and the gain it has", "[limit]") {
    Signal dying = sine(300, 0.5, 48000);
    for (std::size_t i = 9600; i < dying.size(); ++i) dying[i] *= 0.01f;
    const kiai::Project project =
        project_of(dying, "[sound.s]\ntakes = [\"tone\"]\nlimit = { plays = 2, full = \"end-quietest\" }\n");
    kiai::Engine engine(project, {.seed = 1});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    engine.play("s");
    render(engine, 12000); // the first has died away
    kiai::Play second = engine.play("s");
    render(engine, 100);
    engine.play("s");
    render(engine, 100);
    second.set_gain(-60); // now the second is quieter than any
    render(engine, 1000);
    engine.play("s");
    render(engine, 100);
    engine.poll();
    const auto gone = with_outcome(log, Outcome::stolen);
    REQUIRE(gone.size() == 2);
    CHECK(gone[0].play == 1);
    CHECK(gone[1].play == 2);
}

TEST_CASE("No play is stolen for one of lower priority, and the lowest is stolen first", "[limit]") {
    const std::string text = "priority = 10\n[bus.pieces]\nlimit = { plays = 2, full = \"end-oldest\" }\n"; // of `loud`
    Ladder ladder(text);
    ladder.play({"loud", "loud", "quiet"});
    CHECK(ladder.story() == "+loud +loud !quiet ");
    Ladder mixed(text);
    mixed.play({"loud", "quiet", "middle", "loud"});
    CHECK(mixed.story() == "+loud +quiet -quiet +middle -middle +loud ");
}

TEST_CASE("restart: all of them end for the newcomer", "[limit]") {
    Limited bench("{ plays = 3, full = \"restart\" }");
    for (const kiai::Frames frame : {0, 100, 200, 300, 400}) bench.play_at(frame);
    bench.run(1000);
    CHECK(bench.count(Outcome::played) == 5);
    const auto gone = with_outcome(bench.log, Outcome::stolen);
    REQUIRE(gone.size() == 3);
    for (std::uint32_t i = 0; i < 3; ++i) {
        CHECK(gone[i].play == i + 1);
        CHECK(gone[i].other == 4);
        CHECK(to_string(gone[i].limit.value().full) == std::string("restart"));
        CHECK(to_string(gone[i].limit.value()) == "sound s");
    }
}

TEST_CASE("A bus counts everything that is on it and below it, up to main, all is decided before anyone ends",
          "[limit]") {
    const std::string buses = "[bus.bench]\nlimit = { plays = 2, full = \"refuse\" }\n[bus.pieces]\ninto = \"bench\"\n"
                              "limit = { plays = 1, full = \"end-oldest\" }\n";
    Ladder ladder(buses + "[sound.lamp]\ntakes = [\"tone\"]\nbus = \"bench\"\n");
    ladder.play({"loud", "lamp", "quiet"});
    // On `pieces` the loud play would be stolen, which also makes room on `bench`.
    CHECK(ladder.story() == "+loud +lamp -loud +quiet ");
    Ladder full(buses + "[sound.lamp]\ntakes = [\"tone\"]\nbus = \"bench\"\n");
    full.play({"lamp", "lamp", "loud"});
    CHECK(full.story() == "+lamp +lamp !loud ");
    // The sound's own limit would end the oldest play, but main refuses, so no play ends.
    Ladder last("limit = { plays = 1 }\n[bus.main]\nlimit = { plays = 2, full = \"refuse\" }\n[bus.pieces]\n"
                "[sound.lamp]\ntakes = [\"tone\"]\nlimit = { plays = 2 }\n");
    last.play({"lamp", "lamp", "loud", "lamp"});
    CHECK(last.story() == "+lamp +lamp !loud -lamp +lamp ");
    CHECK(to_string(with_outcome(last.log, Outcome::refused_limit)[0].limit.value()) == "bus main");
}

TEST_CASE("The gains of the buses add up on the way to main", "[limit]") {
    kiai::Engine engine(project_of(Signal(1000, 0.5f), "[bus.a]\ninto = \"b\"\ngain = -3\n[bus.b]\ngain = \"50 %\"\n"
                                                       "[sound.s]\ntakes = [\"tone\"]\nbus = \"a\"\n"),
                        {.seed = 1});
    engine.play("s");
    const Signal out = side(render(engine, 500), 0);
    CHECK(out[300] == Approx(0.5 * 0.5 * std::pow(10, -3 / 20.0)));
}
