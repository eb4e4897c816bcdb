// Each kind of trigger, with its edge cases.
#include "support/bench.h"

#include <catch2/catch.hpp>

using namespace support;
using kiai::Outcome;

namespace {

const char* bindings = R"(
[sound.hum]
takes = ["tone"]
loop = true
limit = { plays = 100 }

[zone.back]
rectangle = { x = 0, y = 0, width = 100, height = 50 }
[zone.front]
circle = { x = 50, y = 25, r = 10 }
order = 1
[zone.bare]
circle = { x = 90, y = 40, r = 5 }
order = 1
[zone.first]
rectangle = { x = 200, y = 0, width = 10, height = 10 }
[zone.second]
rectangle = { x = 205, y = 0, width = 10, height = 10 }

[[binding]]
trigger = { press = "back" }
action = { play = "tone" }
[[binding]]
trigger = { press = "front" }
action = { play = "tone" }
[[binding]]
trigger = { press = "first" }
action = { play = "tone" }
[[binding]]
trigger = { press = "second" }
action = { play = "tone" }
[[binding]]
trigger = { key-down = "Space" }
action = { play = "tone" }
[[binding]]
trigger = { contact = ["marble", "oak"] }
action = { play = "tone" }
[[binding]]
trigger = { notice = "begin" }
action = { play = "hum" }
[[binding]]
trigger = { notice = "end" }
action = { stop = "hum" }
[[binding]]
trigger = { notice = "both" }
action = [{ stop = "hum" }, { play = "tone" }]
[[binding]]
trigger = { notice = "both" }
action = { play = "tone" }
)";

struct Pressing : Bench {
    Pressing() : Bench(bindings, Signal(1000, 0.01f)) {}
    std::vector<kiai::Decision> pressed(kiai::Point point) {
        engine.press(point);
        auto result = decided();
        engine.release();
        return result;
    }
};

} // namespace

TEST_CASE("A press plays what is bound to the zone, and the log has every detail", "[press]") {
    Pressing bench;
    const auto log = bench.pressed({10, 10});
    REQUIRE(log.size() == 1);
    CHECK(log[0].outcome == Outcome::played);
    CHECK(log[0].trigger == kiai::ReportKind::press);
    CHECK(log[0].on == "back");
    CHECK(log[0].binding == 1);
    CHECK(log[0].sound == "tone");
    CHECK(log[0].play == 1);
    CHECK(log[0].cause == 1);
    CHECK(log[0].layers.at(0).clip == "tone");
}

TEST_CASE("The front zone takes the press, even with nothing bound to it", "[press]") {
    Pressing bench;
    CHECK(bench.pressed({50, 25})[0].on == "front");
    const auto bare = bench.pressed({90, 40});
    REQUIRE(bare.size() == 1);
    CHECK(bare[0].outcome == Outcome::no_binding);
    CHECK(bare[0].on == "bare");
    CHECK(bench.pressed({207, 5})[0].on == "second"); // of equal order the later in the file
    CHECK(bench.pressed({202, 5})[0].on == "first");
}

TEST_CASE("A circle's rim is inside, a rectangle is inside at left and top, outside at right and bottom", "[press]") {
    Pressing bench;
    CHECK(bench.pressed({60, 25})[0].on == "front");
    CHECK(bench.pressed({60.001f, 25})[0].on == "back");
    CHECK(bench.pressed({0, 0})[0].on == "back");
    CHECK(bench.pressed({0, 49.999f})[0].on == "back");
    for (const kiai::Point outside :
         {kiai::Point{100, 10}, kiai::Point{10, 50}, kiai::Point{-0.001f, 10}, kiai::Point{10, -0.001f}}) {
        const auto log = bench.pressed(outside);
        REQUIRE(log.size() == 1);
        CHECK(log[0].outcome == Outcome::no_zone);
    }
}

TEST_CASE("A press that is reported every frame plays once, until it is released", "[press]") {
    Pressing bench;
    int played = 0, repeats = 0;
    for (int frame = 0; frame < 60; ++frame) {
        bench.engine.press({10, 10});
        for (const auto& decision : bench.decided()) {
            played += decision.outcome == Outcome::played ? 1 : 0;
            repeats += decision.outcome == Outcome::same_state ? 1 : 0;
        }
    }
    CHECK(played == 1);
    CHECK(repeats == 1); // said once
    bench.engine.release();
    bench.engine.release(); // no effect
    CHECK(bench.decided().empty());
    CHECK(bench.pressed({10, 10})[0].outcome == Outcome::played);
}

TEST_CASE("Several pointers are distinguished", "[press]") {
    Pressing bench;
    bench.engine.press({10, 10}, 0);
    bench.engine.press({50, 25}, 1);
    CHECK(bench.decided().size() == 2);
    bench.engine.release(0);
    bench.engine.press({50, 25}, 1);
    CHECK(bench.decided()[0].outcome == Outcome::same_state);
    bench.engine.press({10, 10}, 0xfedcba9876543210u); // any number is a pointer's
    CHECK(bench.decided()[0].outcome == Outcome::played);
}

TEST_CASE("A key plays once however long it is held", "[key]") {
    Pressing bench;
    bench.engine.key_down("Space");
    CHECK(bench.decided()[0].outcome == Outcome::played);
    for (int i = 0; i < 10; ++i) bench.engine.key_down("Space"); // auto-repeat
    const auto repeats = bench.decided();
    REQUIRE(repeats.size() == 1);
    CHECK(repeats[0].outcome == Outcome::same_state);
    bench.engine.key_up("Space");
    bench.engine.key_down("Space");
    const auto again = bench.decided();
    REQUIRE(again.size() == 1);
    CHECK(again[0].outcome == Outcome::played);
}

TEST_CASE("A key that nothing is bound to is answered with the nearest", "[key]") {
    Pressing bench;
    bench.engine.key_down("space");
    const auto log = bench.decided();
    REQUIRE(log.size() == 1);
    CHECK(log[0].outcome == Outcome::no_binding);
    CHECK(log[0].nearest == "Space");
}

TEST_CASE("The kinds of a contact come in either order", "[contact]") {
    Pressing bench;
    bench.engine.contact("marble", "oak");
    bench.engine.contact("oak", "marble");
    bench.engine.contact("marble", "marble");
    const auto log = bench.decided();
    REQUIRE(log.size() == 3);
    CHECK(log[0].outcome == Outcome::played);
    CHECK(log[1].outcome == Outcome::played);
    CHECK(log[1].on == "oak+marble");
    CHECK(log[2].outcome == Outcome::no_binding);
}

TEST_CASE("Of the contacts at one frame the strongest are heard, in the order of the calls", "[contact]") {
    const std::string text = "[sound.s]\ntakes = [\"tone\"]\nlimit = { plays = 2, full = \"refuse\" }\nfollow = [{ "
                             "value = \"strength\", target = \"gain\", curve = [[0, -40], [1, 0]] }]\n"
                             "[[binding]]\ntrigger = { contact = [\"a\", \"b\"] }\naction = { play = \"s\" }\n";
    kiai::Engine engine(project_of(Signal(1000, 0.01f), text), {.seed = 1});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    engine.contact("a", "b", {.strength = 0.1f});
    engine.notice("between-them");
    engine.contact("b", "a", {.strength = 0.9f});
    engine.contact("a", "b", {.strength = 0.5f});
    render(engine, 10);
    engine.poll();
    REQUIRE(log.size() == 6);
    CHECK(log[0].cause == 1); // causes count in the order in which they are served
    CHECK(log[0].layers.at(0).gain == Approx(-36));
    CHECK(log[1].trigger == kiai::ReportKind::notice); // keeps its place
    CHECK(log[2].layers.at(0).gain == Approx(-4));
    CHECK(log[3].outcome == Outcome::stolen); // the weakest
    CHECK(log[3].play == log[0].play);
    CHECK(log[4].outcome == Outcome::ended);
    CHECK(log[5].layers.at(0).gain == Approx(-20));
}

TEST_CASE("A notice begins a loop, another ends it with the sound's fade", "[notice]") {
    Pressing bench;
    bench.engine.notice("begin");
    bench.decided();
    CHECK(bench.engine.looping() == 1);
    bench.decided(100000);
    CHECK(bench.engine.sounding() == 1);
    bench.engine.notice("end");
    const auto log = bench.decided();
    REQUIRE(log.size() == 1);
    CHECK(log[0].outcome == Outcome::stopped);
    CHECK(log[0].count == 1);
    CHECK(bench.engine.looping() == 0);
    bench.decided(480);
    CHECK(bench.engine.sounding() == 0);
    bench.engine.notice("end");
    CHECK(bench.decided()[0].outcome == Outcome::nothing_to_stop);
}

TEST_CASE("A stop ends all plays of its sound and no other", "[notice]") {
    Pressing bench;
    for (int i = 0; i < 5; ++i) bench.engine.notice("begin");
    const kiai::Play other = bench.engine.play("tone");
    bench.decided();
    bench.engine.stop("hum");
    const auto log = bench.decided(500);
    CHECK(log[0].count == 5);
    CHECK(bench.engine.sounding() == 1);
    CHECK(other.playing());
}

TEST_CASE("Several bindings and several actions are carried out in the order of the file", "[notice]") {
    Pressing bench;
    bench.engine.notice("begin");
    bench.decided();
    bench.engine.notice("both");
    const auto log = bench.decided();
    REQUIRE(log.size() == 3);
    CHECK(log[0].outcome == Outcome::stopped);
    CHECK(log[1].outcome == Outcome::played);
    CHECK(log[1].binding == 9);
    CHECK(log[2].binding == 10);
}

TEST_CASE("Winding down ends what would never end, and nothing else", "[notice]") {
    Pressing bench;
    bench.engine.notice("begin");
    const kiai::Play tone = bench.engine.play("tone");
    bench.decided();
    bench.engine.wind_down(kiai::Seconds(0.01));
    bench.decided(490);
    CHECK(bench.engine.sounding() == 1);
    CHECK(tone.playing());
}

TEST_CASE("Ten thousand bindings answer as one does", "[notice]") {
    std::string text;
    for (int i = 0; i < 10000; ++i)
        text += "[[binding]]\ntrigger = { notice = \"n" + std::to_string(i) + "\" }\naction = { play = \"tone\" }\n";
    kiai::Engine engine(project_of(Signal(10, 0.01f), text), {.seed = 1});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    engine.notice("n9999");
    render(engine, 1);
    engine.poll();
    REQUIRE(log.size() == 1);
    CHECK(log[0].binding == 10000);
}
