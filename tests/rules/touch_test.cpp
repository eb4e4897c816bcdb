// Keys, contacts, motions and watches: each change fires once.
#include "support/bench.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <random>
#include <set>

using namespace support;
using kiai::Outcome;

TEST_CASE("A key is held once, its repeats count where they are asked for", "[key]") {
    Bench bench(hum + binding("key-down = \"Space\"", "hold = \"hum\"") +
                binding("key-up = \"Space\"", "play = \"tone\"") +
                binding("key-down = \"KeyR\", repeat = true", "play = \"tone\""));
    for (int i = 0; i < 3; ++i) bench.engine.key_down("Space");
    CHECK(bench.told() == "played hum, same-state");
    for (int i = 0; i < 3; ++i) bench.engine.key_down("KeyR");
    CHECK(bench.told() == "played tone, played tone, played tone");
    bench.engine.key_up("Space");
    bench.engine.key_up("Space");
    CHECK(bench.told() == "played tone, stopped"); // first what is bound to it, then what it held
    CHECK(bench.engine.looping() == 0);
}

TEST_CASE("With a pair number reports are one touch until they are apart", "[contact]") {
    Bench bench(hum + binding("contact = [\"marble\", \"oak\"]", "hold = \"hum\"") +
                binding("contact-end = [\"oak\", \"marble\"]", "play = \"tone\""));
    for (int i = 0; i < 3; ++i) bench.engine.contact("marble", "oak", {.pair = 1});
    bench.engine.contact("oak", "marble", {.pair = 2});
    CHECK(bench.told() == "played hum, same-state, played hum");
    CHECK(bench.engine.looping() == 2);
    bench.engine.contact_end(1);
    CHECK(bench.told() == "played tone, stopped");
    CHECK(bench.engine.looping() == 1);
    bench.engine.contact_end(1); // no effect
    bench.engine.contact_end(99);
    CHECK(bench.told().empty());
    bench.engine.contact("marble", "oak"); // nothing would end this one
    CHECK(bench.told() == "no-end hum");
    bench.engine.contact("marble", "oak", {.pair = 1});
    CHECK(bench.told() == "played hum");
}

TEST_CASE("Ten thousand contacts at a time are distinguished", "[contact]") {
    Bench bench(binding("contact = [\"a\", \"b\"]", "nothing = true") +
                binding("contact-end = [\"a\", \"b\"]", "nothing = true"));
    const std::uint64_t most = 10000;
    for (std::uint64_t pair = 1; pair <= most; ++pair) bench.engine.contact("a", "b", {.pair = pair * 0x10001});
    CHECK(bench.decided().size() == most);
    for (std::uint64_t pair = 2; pair <= most; pair += 2) bench.engine.contact_end(pair * 0x10001);
    CHECK(bench.decided().size() == most / 2);
    for (std::uint64_t pair = 1; pair <= most; ++pair) bench.engine.contact("a", "b", {.pair = pair * 0x10001});
    const auto log = bench.decided();
    CHECK(with_outcome(log, Outcome::done).size() == most / 2);
    CHECK(with_outcome(log, Outcome::same_state).size() == most / 2);
}

TEST_CASE("Bodies touch once as their edges meet, and again once they were apart by the margin", "[contact][body]") {
    Bench bench(hum + binding("contact = [\"marble\", \"oak\"], margin = 2", "hold = \"hum\"") +
                binding("contact-end = [\"marble\", \"oak\"]", "play = \"tone\"") +
                binding("contact-end = [\"marble\", \"oak\"], lost = true", "nothing = true"));
    bench.engine.body_box(1, "oak", {0, 100}, {200, 20}); // its top is at 90
    const auto at = [&](float y) {
        bench.engine.body(7, "marble", {0, y}, 8);
        return bench.told(480);
    };
    CHECK(at(70).empty());
    CHECK(at(81.9f).empty());
    CHECK(at(82) == "played hum"); // the rims meet
    const auto touched = bench.log.at(0);
    CHECK(touched.on == "marble+oak");
    CHECK(at(82).empty()); // however often
    CHECK(at(85).empty());
    CHECK(at(80.1f).empty()); // apart by less than the margin
    CHECK(at(82).empty());
    CHECK(at(79.9f) == "played tone, done, stopped");
    CHECK(at(84) == "played hum");
    bench.engine.body(8, "marble", {60, 84}, 8); // another marble, its own touch
    bench.engine.body(9, "brass", {60, 84}, 8);  // nothing waits for it
    CHECK(bench.told() == "played hum");
    CHECK(bench.engine.looping() == 2);
    bench.engine.body_gone(7);
    CHECK(bench.told() == "lost, done, stopped");
    bench.engine.body_gone(7);
    bench.engine.body(0, "marble", {0, 0}, 1);
    CHECK(bench.told() == "bad-number");
    bench.engine.body(7, "marble", {0, 84}, 8); // comes again
    CHECK(bench.told() == "played hum");
}

TEST_CASE("Bodies touch where their edges do, whatever their shapes, as hard as they come nearer", "[contact][body]") {
    Bench bench("[sound.s]\ntakes = [\"tone\"]\nlimit = { plays = 100 }\nfollow = [{ value = \"strength\", target = "
                "\"gain\", curve = "
                "[[0, -40], [1000, 0]] }]\n" +
                binding("contact = [\"a\", \"b\"]", "play = \"s\""));
    const auto meet = [&](kiai::Point a, kiai::Point size_a, kiai::Point b, kiai::Point size_b) {
        bench.engine.body_gone(1), bench.engine.body_gone(2);
        const auto put = [&](std::uint64_t number, const char* kind, kiai::Point middle, kiai::Point size) {
            if (size.y > 0)
                bench.engine.body_box(number, kind, middle, size);
            else
                bench.engine.body(number, kind, middle, size.x);
        };
        put(1, "a", a, size_a), put(2, "b", b, size_b);
        return bench.told() == "played s";
    };
    CHECK(meet({0, 0}, {3, 0}, {5, 0}, {2, 0})); // two circles
    CHECK_FALSE(meet({0, 0}, {3, 0}, {5.01f, 0}, {2, 0}));
    CHECK(meet({0, 0}, {5, 0}, {7, 8}, {8, 8})); // a circle and the corner of a box, at 3, 4
    CHECK_FALSE(meet({0, 0}, {4.99f, 0}, {7, 8}, {8, 8}));
    CHECK(meet({0, 0}, {2, 2}, {2, 2}, {2, 2})); // two boxes, corner to corner
    CHECK_FALSE(meet({0, 0}, {2, 2}, {2.01f, 0}, {2, 2}));
    CHECK(meet({0, 0}, {1, 0}, {0.1f, 0}, {50, 50})); // one within the other
    bench.engine.body_gone(1), bench.engine.body_gone(2);
    bench.engine.body(2, "b", {100, 0}, 1);
    for (int frame = 0; frame < 10; ++frame) { // 480 units a second, 4.8 each 10 ms
        bench.engine.body(1, "a", {60 + 4.8f * static_cast<float>(frame), 0}, 1, kiai::Seconds(0.01 * frame));
        bench.decided(480);
        if (!bench.log.empty() && bench.log[0].outcome == Outcome::played) break;
    }
    REQUIRE(!bench.log.empty());
    CHECK(bench.log[0].layers.at(0).gain == Approx(-40 + 40 * 0.48).margin(0.1));
}

TEST_CASE("Bodies of every size touch and part as a comparison of each with each other says", "[contact][body]") {
    constexpr int count = 300, rounds = 30;
    constexpr double margin = 0.5;
    const float smallest = GENERATE(1.0f, 0.001f); // of like sizes, and of sizes that share no cell
    Bench bench(binding("contact = [\"a\", \"a\"], margin = 0.5", "nothing = true") +
                binding("contact-end = [\"a\", \"a\"]", "nothing = true"));
    struct Shape {
        kiai::Point middle;
        double round = 0, wide = 0, high = 0; ///< a radius, or half a box
    };
    const auto apart = [](const Shape& a, const Shape& b) {
        const double x = std::abs(double{a.middle.x} - double{b.middle.x}) - a.wide - b.wide,
                     y = std::abs(double{a.middle.y} - double{b.middle.y}) - a.high - b.high;
        return (x > 0 || y > 0 ? std::hypot(std::max(x, 0.0), std::max(y, 0.0)) : std::max(x, y)) - a.round - b.round;
    };
    std::mt19937 random(7);
    const auto between = [&](float low, float high) { return std::uniform_real_distribution(low, high)(random); };
    std::map<int, Shape> there;
    std::set<std::pair<int, int>> touching;
    long met = 0, parted = 0;
    for (int round = 0; round < rounds; ++round) {
        for (int number = 0; number < count; ++number) {
            const float huge = smallest < 1 && number == 0 ? 1000.0f : 1.0f,
                        size = huge * std::pow(10.0f, between(std::log10(smallest), 1));
            Shape& own = there[number];
            own = {{between(-100, 100), between(-100, 100)}};
            if (number % 3 == 0) {
                own.wide = size, own.high = size / 2;
                bench.engine.body_box(static_cast<std::uint64_t>(number) + 1, "a", own.middle, {2 * size, size});
            } else {
                own.round = size;
                bench.engine.body(static_cast<std::uint64_t>(number) + 1, "a", own.middle, size);
            }
            for (const auto& [other, shape] : there) {
                const std::pair pair = std::minmax(number, other);
                if (other == number) continue;
                if (touching.contains(pair) && apart(own, shape) > margin)
                    ++parted, touching.erase(pair);
                else if (!touching.contains(pair) && apart(own, shape) <= 0)
                    ++met, touching.insert(pair);
            }
        }
        for (const auto& decision : bench.decided()) {
            if (decision.outcome != Outcome::done) continue;
            met -= decision.trigger == kiai::ReportKind::contact ? 1 : 0;
            parted -= decision.trigger == kiai::ReportKind::contact_end ? 1 : 0;
        }
        INFO("round " << round);
        REQUIRE(met == 0);
        REQUIRE(parted == 0);
    }
    CHECK(touching.size() > 100); // so something was compared
}

TEST_CASE("Five hundred and twelve bodies at a time, and the next is refused", "[contact][body]") {
    Bench bench(binding("contact = [\"a\", \"a\"]", "nothing = true"));
    for (std::uint64_t b = 1; b <= 513; ++b) bench.engine.body(b, "a", {static_cast<float>(b) * 3, 0}, 1);
    CHECK(bench.told() == "no-room");
    bench.engine.body_gone(100);
    bench.engine.body(600, "a", {3, 1}, 1); // on the first
    CHECK(bench.told() == "done");
}

namespace {

const std::string wheel = "[motion.wheel]\nframes = 60\nrate = 30\nmarkers = { cup = [0, 20, 40], top = 59.5 }\n" +
                          binding("marker = [\"wheel\", \"cup\"]", "notice = \"cup\"") +
                          binding("marker = [\"wheel\", \"top\"]", "notice = \"top\"") +
                          binding("notice = \"cup\"", "nothing = true") + binding("notice = \"top\"", "nothing = true");

struct Wheel : Bench {
    explicit Wheel(const std::string& text = wheel) : Bench(text) {}
    std::string at(float frame, int playhead = 0) {
        engine.playhead("wheel", frame, playhead);
        std::string text;
        for (const auto& decision : decided())
            if (decision.trigger == kiai::ReportKind::notice) text += (text.empty() ? "" : " ") + decision.on;
        return text;
    }
};

} // namespace

TEST_CASE("Each marker fires once as the playhead comes to it: at the start, over the seam, in big steps", "[motion]") {
    Wheel bench;
    CHECK(bench.at(0) == "cup");
    CHECK(bench.at(0).empty());
    CHECK(bench.at(19.9f).empty());
    CHECK(bench.at(20) == "cup");
    CHECK(bench.at(20.1f).empty());
    CHECK(bench.at(59.6f) == "cup top"); // 40, then 59.5
    CHECK(bench.at(0.4f) == "cup");      // over the seam
    CHECK(bench.at(59.9f) == "cup cup top");
    CHECK(bench.at(60).empty() == false);                  // the seam itself is frame 0
    CHECK(bench.at(60 + 60 * 5 + 1) == "cup cup top cup"); // five turns at once: each once
}

TEST_CASE("A playhead that counts on is the same as one that wraps, at any speed", "[motion]") {
    for (const float step : {0.25f, 1.0f, 7.0f, 31.0f}) {
        Wheel on, wrapped;
        std::string a, b;
        for (float frame = 0; frame < 600; frame += step) {
            a += on.at(frame) + '|';
            b += wrapped.at(frame - 60 * std::floor(frame / 60)) + '|';
        }
        CHECK(a == b);
        CHECK(std::count(a.begin(), a.end(), 'c') == 30); // ten turns of three
    }
}

TEST_CASE("A first report fires markers at its frame or less than a frame before it", "[motion]") {
    Wheel bench;
    CHECK(bench.at(0.4f, 1) == "cup");
    CHECK(bench.at(1.5f, 2).empty());
    CHECK(bench.at(30, 3).empty());
    CHECK(bench.at(45, 3) == "cup"); // each playhead for itself
    CHECK(bench.at(2, 2).empty());
    bench.engine.playhead_gone("wheel", 3);
    CHECK(bench.at(41, 3).empty()); // it comes first again, and not from 45 over the seam
}

TEST_CASE("A motion runs backwards where it says so", "[motion]") {
    Wheel bench("[motion.wheel]\nframes = 60\nbackwards = true\nmarkers = { cup = [0, 20, 40], top = 59.5 }\n" +
                binding("marker = [\"wheel\", \"cup\"]", "notice = \"cup\"") +
                binding("marker = [\"wheel\", \"top\"]", "notice = \"top\"") +
                binding("notice = \"cup\"", "nothing = true") + binding("notice = \"top\"", "nothing = true"));
    CHECK(bench.at(30).empty());
    CHECK(bench.at(19) == "cup");
    CHECK(bench.at(21) == "cup"); // and forwards again
    CHECK(bench.at(1) == "cup");
    CHECK(bench.at(58) == "cup top"); // the shorter way, over the seam
    CHECK(bench.at(2) == "top cup");
}

TEST_CASE("Seconds become frames by the motion's rate", "[motion]") {
    Wheel bench;
    bench.engine.playhead("wheel", kiai::Seconds(0.5));
    CHECK(bench.decided().empty());
    bench.engine.playhead("wheel", kiai::Seconds(0.7)); // frame 21
    CHECK(bench.decided().size() > 0);
    bench.engine.playhead("whel", 3.0f);
    CHECK(bench.decided().at(0).nearest == "wheel");
}

TEST_CASE("After days a playhead in seconds still fires each marker once", "[motion]") {
    Wheel bench;
    const double days = 1e6;
    bench.engine.playhead("wheel", kiai::Seconds(days));
    bench.decided();
    std::size_t fired = 0;
    for (int step = 1; step <= 1200; ++step) { // 20 s: ten turns of four markers
        bench.engine.playhead("wheel", kiai::Seconds(days + step / 60.0));
        for (const auto& decision : bench.decided()) fired += decision.trigger == kiai::ReportKind::notice ? 1 : 0;
    }
    CHECK(fired == 40);
}

TEST_CASE("A watch begins once when it turns true and ends when it turns false, with a margin against flutter",
          "[watch]") {
    Bench bench("[dial.fill]\n[dial.heat]\n" + hum +
                binding("watch = \"fill > 0.8\", margin = 0.05", "hold = \"hum\"") +
                binding("watch = \"fill > 0.5 and heat > 0.5\"", "play = \"tone\""));
    const auto turned = [&](const char* dial, float value) {
        bench.engine.set_dial(dial, value);
        return bench.told();
    };
    CHECK(turned("fill", 0.8f).empty()); // not more than
    CHECK(turned("fill", 0.81f) == "played hum");
    CHECK(turned("fill", 0.9f).empty());
    CHECK(turned("fill", 0.76f).empty()); // missed by less than the margin
    CHECK(turned("fill", 0.82f).empty());
    CHECK(bench.engine.looping() == 1);
    CHECK(turned("fill", 0.74f) == "over, stopped");
    CHECK(bench.engine.looping() == 0);
    CHECK(turned("fill", 0.81f) == "played hum");
    CHECK(turned("heat", 0.6f) == "played tone");
    CHECK(turned("heat", 0.4f) == "over");
    CHECK(turned("heat", 0.6f) == "played tone");
}

TEST_CASE("A warning until it is answered does not come back while its cause lasts", "[watch]") {
    Bench bench("[dial.fill]\n" + hum + binding("watch = \"fill > 0.8\"", "play = \"hum\"") +
                binding("key-down = \"Space\"", "stop = \"hum\""));
    bench.engine.set_dial("fill", 0.9f);
    CHECK(bench.told() == "played hum");
    bench.engine.key_down("Space");
    CHECK(bench.told() == "stopped hum");
    for (int i = 0; i < 10; ++i) bench.engine.set_dial("fill", 0.85f + 0.01f * static_cast<float>(i % 3));
    CHECK(bench.told().empty());
    bench.engine.set_dial("fill", 0.1f);
    bench.engine.set_dial("fill", 0.9f);
    CHECK(bench.told() == "over, played hum");
}
