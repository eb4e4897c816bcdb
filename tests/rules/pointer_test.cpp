// Pointers and zones: what enters, leaves, presses and releases, once each.
#include "support/bench.h"

#include <catch2/catch.hpp>

#include <algorithm>

using namespace support;
using kiai::Outcome;

namespace {

const std::string zones = "[scope.menu]\n"
                          "[zone.back]\nrectangle = { x = 0, y = 0, width = 100, height = 100 }\n"
                          "[zone.glass]\nellipse = { x = 50, y = 50, rx = 20, ry = 10 }\norder = 1\nthrough = true\n"
                          "[zone.front]\npolygon = [[50, 40], [60, 60], [40, 60]]\norder = 2\nscope = \"menu\"\n";

std::string all_of(const std::string& zone) {
    return binding("press = \"" + zone + "\"", "notice = \"" + zone + "-press\"") +
           binding("release = \"" + zone + "\"", "notice = \"" + zone + "-release\"") +
           binding("enter = \"" + zone + "\"", "notice = \"" + zone + "-enter\"") +
           binding("leave = \"" + zone + "\"", "notice = \"" + zone + "-leave\"");
}

struct Pointing : Bench {
    Pointing() : Bench(zones + all_of("back") + all_of("glass") + all_of("front")) {}
    /// Returns the notices that were given.
    std::string given(kiai::Frames frames = 10) {
        std::string text;
        for (const auto& decision : decided(frames))
            if (decision.trigger == kiai::ReportKind::notice) text += (text.empty() ? "" : " ") + decision.on;
        return text;
    }
};

} // namespace

TEST_CASE("A pointer enters and leaves a zone once, however often it is reported", "[pointer]") {
    Pointing bench;
    for (int i = 0; i < 5; ++i) bench.engine.pointer({10, 10});
    CHECK(bench.given() == "back-enter");
    for (int i = 0; i < 5; ++i) bench.engine.pointer({10.0f + static_cast<float>(i), 20});
    CHECK(bench.given().empty());
    bench.engine.pointer({100, 10}); // the right side is outside
    CHECK(bench.given() == "back-leave");
    bench.engine.pointer({99.9f, 10});
    CHECK(bench.given() == "back-enter");
    bench.engine.pointer_gone();
    CHECK(bench.given() == "back-leave");
}

TEST_CASE("A zone that lets through shares what it takes with the one behind it", "[pointer]") {
    Pointing bench;
    bench.engine.pointer({50, 50});
    CHECK(bench.given() == "glass-enter back-enter");
    bench.engine.press({50, 50});
    CHECK(bench.given() == "glass-press back-press");
    bench.engine.release();
    CHECK(bench.given() == "glass-release back-release");
    bench.engine.pointer({50, 60}); // the rim is inside
    CHECK(bench.given().empty());
    bench.engine.pointer({50, 60.01f});
    CHECK(bench.given() == "glass-leave");
}

TEST_CASE("A press stays with its zone until its release, wherever that comes", "[pointer]") {
    Pointing bench;
    bench.engine.press({10, 10});
    bench.engine.pointer({500, 500});
    CHECK(bench.given() == "back-enter back-press back-leave");
    bench.engine.release();
    CHECK(bench.given() == "back-release");
    bench.engine.release(); // it is up already
    CHECK(bench.given().empty());
}

TEST_CASE("Several pointers press and release each for itself", "[pointer]") {
    Pointing bench;
    bench.engine.press({10, 10}, 0);
    bench.engine.press({20, 10}, 5);
    CHECK(bench.given() == "back-enter back-press back-enter back-press");
    bench.engine.release(5);
    CHECK(bench.given() == "back-release");
    bench.engine.press({20, 10}, 0); // is down still
    CHECK(bench.told() == "same-state");
}

TEST_CASE("A zone of a scope is there while the scope is on, a pointer that does not move enters it", "[pointer]") {
    Pointing bench;
    bench.engine.pointer({50, 55});
    CHECK(bench.given() == "glass-enter back-enter");
    bench.engine.enter_scope("menu");
    CHECK(bench.given() == "glass-leave back-leave front-enter"); // it does not let through
    bench.engine.press({50, 55});
    CHECK(bench.given() == "front-press");
    bench.engine.leave_scope("menu");
    const auto log = bench.decided();
    CHECK(std::count_if(log.begin(), log.end(), [](const auto& one) { return one.outcome == Outcome::lost; }) == 2);
    bench.engine.release(); // the press ended with its zone
    CHECK(bench.given().empty());
}

TEST_CASE("A zone moves and grows while it is held, and takes the pointers that it comes to", "[pointer]") {
    Pointing bench;
    bench.engine.press({10, 10});
    bench.engine.move_zone("back", {1050, 50}); // its middle
    CHECK(bench.given() == "back-enter back-press back-leave");
    bench.engine.release();
    CHECK(bench.given() == "back-release");
    bench.engine.pointer({1000, 0});
    CHECK(bench.given() == "back-enter");
    bench.engine.pointer({1100, 10});
    CHECK(bench.given() == "back-leave");
    bench.engine.move_zone("back", {1050, 50}, 2); // 950 … 1150
    CHECK(bench.given() == "back-enter");
    bench.engine.remove_zone("back");
    CHECK(bench.decided().at(0).outcome == Outcome::lost);
    bench.engine.move_zone("bakc", {0, 0});
    const auto unknown = bench.decided();
    REQUIRE(unknown.size() == 1);
    CHECK(unknown[0].outcome == Outcome::unknown_name);
    CHECK(unknown[0].nearest == "back");
}

TEST_CASE("What an odd number of a polygon's edges surrounds is inside", "[pointer]") {
    Bench bench("[zone.star]\npolygon = [[0, 0], [10, 0], [10, 10], [5, 5], [0, 10]]\n" +
                binding("press = \"star\"", "play = \"tone\""));
    const auto hit = [&](kiai::Point point) {
        bench.engine.press(point);
        bench.engine.release();
        return bench.told() == "played tone";
    };
    CHECK(hit({5, 4.9f}));
    CHECK_FALSE(hit({5, 5.1f})); // in the notch
    CHECK(hit({0.5f, 9}));
    CHECK(hit({9.5f, 9}));
    CHECK_FALSE(hit({11, 5}));
    CHECK_FALSE(hit({-1, 0}));
}

TEST_CASE("When the input is lost all that was down ends, holds too, and release waits for what says so", "[lost]") {
    Bench bench("[zone.z]\ncircle = { x = 0, y = 0, r = 5 }\n[sound.hum]\ntakes = [\"tone\"]\nloop = true\n" +
                binding("press = \"z\"", "hold = \"hum\"") + binding("key-down = \"KeyT\"", "hold = \"hum\"") +
                binding("contact = [\"a\", \"b\"]", "hold = \"hum\"") + binding("release = \"z\"", "play = \"tone\"") +
                binding("release = \"z\", lost = true", "notice = \"gone\"") +
                binding("key-up = \"KeyT\", lost = true", "notice = \"gone\"") +
                binding("notice = \"gone\"", "nothing = true"));
    bench.engine.press({0, 0});
    bench.engine.key_down("KeyT");
    bench.engine.contact("a", "b", {.pair = 7});
    CHECK(bench.told() == "played hum, played hum, played hum");
    CHECK(bench.engine.looping() == 3);
    bench.engine.input_lost();
    CHECK(bench.told() == "lost, done, done, stopped, lost, lost, done, done, stopped, lost, stopped");
    CHECK(bench.engine.looping() == 0);
    bench.engine.release();
    bench.engine.key_up("KeyT");
    bench.engine.contact_end(7);
    CHECK(bench.told().empty());
    bench.engine.press({0, 0}); // they restart
    bench.engine.key_down("KeyT");
    CHECK(bench.told() == "played hum, played hum");
}
