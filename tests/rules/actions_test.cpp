// Actions of bindings, their conditions, and the app's own calls.
#include "support/bench.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <limits>

using namespace support;
using kiai::Outcome;

TEST_CASE("Toggle and restart go by what is playing", "[action]") {
    Bench bench(hum + binding("notice = \"t\"", "toggle = \"hum\"") + binding("notice = \"r\"", "restart = \"hum\""));
    const auto given = [&](const char* notice) {
        bench.engine.notice(notice);
        return bench.told(50);
    };
    CHECK(given("t") == "played hum");
    CHECK(given("t") == "stopped hum");
    CHECK(given("t") == "played hum"); // though the last one is still fading
    CHECK(given("r") == "stopped hum, played hum");
    bench.engine.pause("hum");
    bench.decided(1000);
    CHECK(given("t") == "stopped hum"); // one that is paused sounds
    bench.engine.toggle("hum");
    CHECK(bench.told() == "played hum");
    bench.engine.toggle("hum");
    CHECK(bench.told() == "stopped hum");
}

TEST_CASE("A play has the action's own gain, pitch and length", "[action]") {
    Bench bench(hum + binding("notice = \"n\"", "play = \"hum\", gain = -6, pitch = 2, for = \"100 ms\""));
    bench.engine.notice("n");
    const auto log = bench.everything(9600);
    CHECK(log.at(0).layers.at(0).gain == Approx(-6));
    CHECK(log.at(0).layers.at(0).pitch == Approx(2));
    REQUIRE(log.size() == 2);
    CHECK(log[1].reason == kiai::EndReason::stopped);
    CHECK(log[1].length == 4800 + 480); // and its fade-out
}

TEST_CASE("Gains of sounds and buses move what is playing, and apply to later plays", "[action][bus]") {
    const Signal tone = sine(1000, 0.4, 480);
    Bench bench("[bus.low]\n[bus.deep]\ninto = \"low\"\n" + hum + "bus = \"deep\"\n" +
                    binding("notice = \"down\"", "set = { bus = \"low\" }, gain = -12, over = \"50 ms\"") +
                    binding("notice = \"own\"", "set = \"hum\", gain = -6") +
                    binding("notice = \"mute\"", "mute = \"hum\"") + binding("notice = \"unmute\"", "unmute = \"hum\""),
                tone);
    bench.engine.play("hum");
    bench.decided(4800);
    const auto level = [&](const char* notice) {
        if (notice) bench.engine.notice(notice);
        bench.decided(4800);
        CHECK(largest_inner_second_difference(side(bench.heard, 0)) < 4 * 0.4 * 0.01713 + 1e-4);
        return db(peak(Signal(bench.heard.end() - 1920, bench.heard.end())) / 0.4);
    };
    CHECK(level("down") == Approx(-12).margin(0.05));
    CHECK(level("own") == Approx(-18).margin(0.05));
    CHECK(level("mute") < -200);
    CHECK(level("unmute") == Approx(-18).margin(0.05));
    bench.engine.set_bus_gain("deep", 6);
    CHECK(level(nullptr) == Approx(-12).margin(0.05));
    bench.engine.mute_bus("main");
    CHECK(level(nullptr) < -200);
    CHECK(bench.engine.bus_gain("deep") == 6);
    CHECK(bench.engine.bus_muted("main"));
    CHECK_FALSE(bench.engine.bus_muted("deep"));
    bench.engine.mute_bus("main", false);
    bench.engine.stop("hum");
    bench.decided(4800);
    bench.engine.play("hum"); // what begins later has it from its first frame
    CHECK(level(nullptr) == Approx(-12).margin(0.05));
    bench.engine.set_bus_gain("depe", -6);
    CHECK(bench.decided().at(0).nearest == "deep");
}

TEST_CASE("Gains that are moved while they move make no click", "[clicks]") {
    for (const double frequency : {20.0, 997.0, 10000.0}) {
        const Signal tone = sine(frequency, 0.9, 96000);
        Bench bench("[bus.b]\n[sound.s]\ntakes = [\"tone\"]\nbus = \"b\"\n", tone);
        kiai::Play play = bench.engine.play("s");
        std::vector<float> out;
        for (int i = 0; i < 200; ++i) {
            if (i % 3 == 0) play.set_gain(i % 2 ? -6.0f : -20.0f);
            if (i % 5 == 0) bench.engine.set_bus_gain("b", i % 4 ? -3.0f : -30.0f, kiai::Seconds(0.003 * (i % 17)));
            if (i % 7 == 0) bench.engine.mute_bus("b", i % 2);
            const auto some = render(bench.engine, 97);
            out.insert(out.end(), some.begin(), some.end());
        }
        const Signal left = side(out, 0);
        CHECK(db(std::max(1e-9, largest_inner_second_difference(Signal(left.begin() + 200, left.end())) -
                                    largest_inner_second_difference(tone))) < -80);
    }
}

TEST_CASE("Conditions keep a binding back, and the log says which and why", "[when]") {
    Bench bench("[dial.stock]\nrange = [0, 10]\n" +
                binding("notice = \"drop\"", "play = \"tone\"", "when = \"stock > 0 and speed >= 2\"") +
                binding("notice = \"once\"", "play = \"tone\"", "once = true") +
                binding("notice = \"third\"", "play = \"tone\"", "every = 3") +
                binding("notice = \"slow\"", "play = \"tone\"", "gap = \"100 ms\""));
    bench.engine.notice("drop", {{"speed", 3}});
    auto log = bench.decided();
    REQUIRE(log.size() == 1);
    CHECK(log[0].outcome == Outcome::not_met);
    CHECK(log[0].rule == "stock > 0");
    CHECK(log[0].value == 0);
    CHECK(describe(log[0]) == "notice drop: ignored: condition stock > 0 is false (value 0)");
    bench.engine.set_dial("stock", 4);
    bench.engine.notice("drop", {{"speed", 1.5f}});
    CHECK(bench.decided().at(0).rule == "speed >= 2");
    bench.engine.notice("drop"); // without the value nothing can be said of it
    CHECK(std::isnan(bench.decided().at(0).value));
    bench.engine.notice("drop", {{"speed", 2}});
    CHECK(bench.told() == "played tone");
    for (int i = 0; i < 3; ++i) bench.engine.notice("once");
    CHECK(bench.told() == "played tone, not-met, not-met");
    for (int i = 0; i < 7; ++i) bench.engine.notice("third");
    CHECK(bench.told() == "not-met, not-met, played tone, not-met, not-met, played tone, not-met");
    bench.engine.notice("slow");
    bench.decided(4790);
    bench.engine.notice("slow");
    CHECK(bench.told(20) == "not-met");
    bench.engine.notice("slow");
    CHECK(bench.told() == "played tone");
}

TEST_CASE("A binding acts by chance as often as it says, whatever else is bound", "[when][chance]") {
    const auto acted = [](const std::string& before) {
        Bench bench(before + binding("notice = \"n\"", "nothing = true", "chance = 0.3"));
        std::string all;
        for (int i = 0; i < 10000; ++i) {
            bench.engine.notice("n");
            if (i % 100 == 99)
                for (const auto& one : bench.decided(1)) all += one.outcome == Outcome::done ? '1' : '0';
        }
        return all;
    };
    const std::string one = acted("");
    REQUIRE(one.size() == 10000);
    const auto times = std::count(one.begin(), one.end(), '1');
    CHECK(std::abs(static_cast<double>(times) - 3000) < 4 * std::sqrt(10000 * 0.3 * 0.7));
    CHECK(acted(binding("notice = \"other\"", "nothing = true", "chance = 0.5")) == one);
}

TEST_CASE("Values of a notice reach the plays that it causes, and notices hand them on", "[notice]") {
    Bench bench(
        "[sound.s]\ntakes = [\"tone\"]\nfollow = [{ value = \"speed\", target = \"gain\", curve = [[0, -60], [1, 0]] "
        "}]\n" +
            binding("notice = \"n\"", "notice = \"m\"") + binding("notice = \"m\"", "play = \"s\""),
        Signal(48000, 0.5f));
    bench.engine.notice("n", {{"speed", 1}});
    bench.decided(4800);
    CHECK(db(peak(side(bench.heard, 0)) / 0.5) == Approx(0).margin(0.1));
    const auto log = with_outcome(bench.log, Outcome::played);
    REQUIRE(log.size() == 1);
    CHECK(log[0].from == 1); // the first notice
    CHECK(log[0].cause == 2);
    bench.decided(48000);
    bench.engine.notice("n", {{"speed", 0}});
    bench.decided(4800);
    CHECK(db(peak(side(bench.heard, 0)) / 0.5) == Approx(-60).margin(0.1));
}

TEST_CASE("Notices that give each other end, and the log says so", "[notice]") {
    Bench bench(binding("notice = \"a\"", "notice = \"b\"") + binding("notice = \"b\"", "notice = \"a\""));
    bench.engine.notice("a");
    CHECK(bench.decided().back().outcome == Outcome::too_deep);
}

TEST_CASE("Times that are no numbers are left out, and said", "[handle]") {
    Bench bench(hum);
    const kiai::Seconds never(std::numeric_limits<double>::quiet_NaN());
    kiai::Play play = bench.engine.play("tone", {.delay = never});
    bench.engine.set_bus_gain("main", -6, never);
    CHECK(bench.told() == "bad-number, bad-number");
    CHECK(play.state() == kiai::PlayState::ended);
}

TEST_CASE("A play with a delay can be changed and stopped before it starts", "[handle]") {
    Bench bench(hum);
    kiai::Play loud = bench.engine.play("tone", {.delay = kiai::Seconds(0.1)});
    loud.set_gain(-20);
    kiai::Play never = bench.engine.play("tone", {.delay = kiai::Seconds(0.1)});
    never.stop();
    kiai::Play still = bench.engine.play("hum", {.delay = kiai::Seconds(0.1)});
    still.pause();
    bench.decided(4700);
    CHECK(peak(bench.heard) == 0);
    CHECK(never.state() == kiai::PlayState::ended);
    CHECK(never.reason() == kiai::EndReason::stopped);
    CHECK(loud.state() == kiai::PlayState::asked);
    CHECK(bench.told(1000) == "played tone, done tone, played hum, done hum");
    CHECK(still.state() == kiai::PlayState::paused);
}

TEST_CASE("Handles tell their state, begin later, and have their end called once", "[handle]") {
    Bench bench(hum);
    std::vector<std::string> ends;
    kiai::Play later = bench.engine.play("tone", {.delay = kiai::Seconds(0.25)});
    kiai::Play now = bench.engine.play("tone");
    kiai::Play refused = bench.engine.play("none");
    kiai::Play taken_back = bench.engine.play("tone");
    later.on_ended([&](kiai::EndReason reason) { ends.push_back(std::string("later ") + to_string(reason)); });
    now.on_ended([&](kiai::EndReason) {
        ends.emplace_back("now");
        taken_back.on_ended(nullptr); // ended at the same frame, and comes after it
    });
    refused.on_ended([&](kiai::EndReason reason) { ends.push_back(std::string("refused ") + to_string(reason)); });
    taken_back.on_ended([&](kiai::EndReason) { ends.emplace_back("taken back"); });
    bench.everything(500);
    CHECK(later.state() == kiai::PlayState::asked);
    CHECK(now.state() == kiai::PlayState::playing);
    CHECK(now.elapsed().count() == Approx(500 / 48000.0));
    CHECK(ends == std::vector<std::string>{"refused unknown-name"});
    bench.everything(1500);
    CHECK(ends == std::vector<std::string>{"refused unknown-name", "now"});
    CHECK(now.elapsed().count() == Approx(1000 / 48000.0));
    const auto log = bench.everything(12000);
    CHECK(with_outcome(log, Outcome::played).at(0).frame == 12000);
    CHECK(ends.back() == "later finished");
    bench.everything(100);
    CHECK(ends.size() == 3);
}
