// Every bounded resource is filled to its limit and beyond. The engine reports it, and nothing else is harmed.
#include "support/bench.h"

#include <catch2/catch.hpp>

using namespace support;
using kiai::Outcome;
using kiai::Seconds;

namespace {

std::size_t count(const std::vector<kiai::Decision>& log, Outcome outcome) {
    return with_outcome(log, outcome).size();
}

struct Small {
    explicit Small(const std::string& text, kiai::EngineSettings settings)
        : engine(project_of(Signal(48, 0.1f), text), settings) {
        engine.set_log([this](const kiai::Decision& d) { log.push_back(d); });
    }
    void run(kiai::Frames frames) {
        log.clear();
        static_cast<void>(render(engine, frames));
        engine.poll();
    }
    /// Checks that nothing else is harmed: a play and a contact start and end.
    void works() {
        run(9600);
        kiai::Play play = engine.play("tone");
        run(4800);
        CHECK(count(log, Outcome::played) == 1);
        CHECK_FALSE(play.playing());
    }
    kiai::Engine engine;
    std::vector<kiai::Decision> log;
};

} // namespace

TEST_CASE("Full: the ring of reports", "[full]") {
    Small small("", {.seed = 1, .reports = 16});
    for (int i = 0; i < 40; ++i) small.engine.notice("n");
    small.run(64);
    REQUIRE(count(small.log, Outcome::ring_full) == 1);
    CHECK(with_outcome(small.log, Outcome::ring_full)[0].count == 24);
    small.works();
}

TEST_CASE("Full: the calendar of later reports holds nothing else back", "[full]") {
    Small small("", {.seed = 1, .reports = 16});
    std::vector<kiai::Play> later;
    for (int i = 0; i < 20; ++i) {
        later.push_back(small.engine.play("tone", {.delay = Seconds(0.1)}));
        if (i % 10 == 9) small.run(8);
    }
    small.run(64);
    int waiting = 0;
    for (const kiai::Play& play : later) waiting += play.playing() ? 1 : 0;
    CHECK(waiting == 8);
    kiai::Play now = small.engine.play("tone"); // what is due now is served now
    small.run(64);
    CHECK(count(small.log, Outcome::played) == 1);
    small.run(9600);
    CHECK(count(small.log, Outcome::played) == 8);
    small.works();
}

TEST_CASE("Full: the calendar says so, once for each report that is lost", "[full]") {
    Small small("", {.seed = 1, .reports = 16});
    for (int i = 0; i < 3; ++i) {
        for (int k = 0; k < 4; ++k) small.engine.play("tone", {.delay = Seconds(10)});
        static_cast<void>(render(small.engine, 8));
    }
    small.engine.poll();
    CHECK(count(small.log, Outcome::calendar_full) == 4);
    CHECK(small.engine.waiting() == 8);
}

TEST_CASE("Full: names that the app makes up never take those of a project", "[full][names]") {
    Small small("", {.seed = 1});
    for (int i = 0; i < 70000; ++i) {
        small.engine.notice("made-up-" + std::to_string(i));
        if (i % 8000 == 7999) static_cast<void>(render(small.engine, 64));
    }
    small.run(64);
    small.log.clear();
    small.engine.notice("one-more");
    small.run(64);
    CHECK(count(small.log, Outcome::names_full) == 1);
    CHECK(count(small.log, Outcome::no_binding) == 0);
    small.engine.set_project(
        project_of(Signal(48, 0.1f), "[sound.brand-new]\ntakes = [\"tone\"]\n" +
                                         binding("notice = \"brand-new-notice\"", "play = \"brand-new\"")));
    small.run(64);
    small.engine.notice("brand-new-notice");
    small.engine.notice("yet-another");
    small.run(64);
    CHECK(count(small.log, Outcome::played) == 1);
    small.works();
}

TEST_CASE("Full: keys, pointers, contacts and bodies", "[full]") {
    Small small("[sound.hum]\ntakes = [\"tone\"]\nloop = true\nlimit = { plays = 1000 }\n" +
                    binding("contact = [\"a\", \"b\"]", "hold = \"hum\""),
                {.seed = 1, .voices = 64, .reports = 16384});
    for (int i = 0; i < 300; ++i) small.engine.key_down("Key" + std::to_string(i));
    small.run(64);
    CHECK(count(small.log, Outcome::no_room) == 300 - 128);
    for (std::uint64_t i = 0; i < 40; ++i) small.engine.press({1, 1}, i);
    small.run(64);
    CHECK(count(small.log, Outcome::no_room) == 40 - 32);
    for (std::uint64_t i = 0; i < 100; ++i)
        small.engine.pointer({1, 1}, 1000 + i); // not pressed: the oldest makes room
    small.engine.input_lost();
    small.run(64);
    std::size_t refused = 0;
    for (std::uint64_t pair = 1; pair <= 26000; ++pair) {
        small.engine.contact("c", "d", {.pair = pair});
        if (pair % 4000 != 0 && pair != 26000) continue;
        small.run(64);
        refused += count(small.log, Outcome::no_room);
    }
    CHECK(refused == 26000 - 24576);
    small.engine.input_lost();
    for (std::uint64_t b = 1; b <= 600; ++b) small.engine.body(b, "a", {static_cast<float>(b) * 10, 0}, 1);
    small.run(64);
    CHECK(count(small.log, Outcome::no_room) == 600 - 512);
    for (std::uint64_t b = 1; b <= 600; ++b) small.engine.body_gone(b);
    small.run(64);
    // Everything that was full accepts more.
    small.engine.key_down("Key1");
    small.engine.contact("a", "b", {.pair = 1});
    small.run(64);
    CHECK(small.engine.looping() == 1);
    small.engine.contact_end(1);
    small.run(64);
    CHECK(small.engine.looping() == 0);
    small.works();
}

TEST_CASE("Full: sequences and their branches", "[full]") {
    Small small("[sequence.wide]\nsteps = [{ together = [[{ wait = \"100 ms\" }], [{ wait = \"100 ms\" }], [{ wait = "
                "\"100 ms\" }], [{ wait = \"100 ms\" }], [{ wait = \"100 ms\" }], [{ wait = \"100 ms\" }], [{ wait = "
                "\"100 ms\" }]] }]\n",
                {.seed = 1});
    for (int i = 0; i < 100; ++i) small.engine.run("wide");
    small.run(64);
    CHECK(count(small.log, Outcome::no_room) > 0);
    small.run(48000);
    CHECK(small.engine.waiting() == 0);
    small.engine.run("wide");
    small.run(64);
    CHECK(count(small.log, Outcome::no_room) == 0);
    small.works();
}

TEST_CASE("Full: voices and slots of handles", "[full]") {
    Small small("", {.seed = 1, .voices = 2, .reports = 16});
    std::vector<kiai::Play> plays;
    for (int i = 0; i < 200; ++i) {
        plays.push_back(small.engine.play("tone"));
        if (i % 12 == 11) static_cast<void>(render(small.engine, 4));
    }
    small.works();
    for (const kiai::Play& play : plays) CHECK_FALSE(play.playing());
}
