// Reports of one frame keep the order of the calls. If they compete, the limit decides.
#include "support/bench.h"

#include <catch2/catch.hpp>

#include <chrono>

using namespace support;
using kiai::Outcome;

TEST_CASE("A contact that begins and ends within a block ends, whatever began after it", "[order]") {
    Bench bench("[sound.hum]\ntakes = [\"tone\"]\nloop = true\n" +
                binding("contact = [\"a\", \"b\"]", "hold = \"hum\""));
    for (const float second : {0.1f, 0.9f}) {
        bench.engine.contact("a", "b", {.strength = 0.2f, .pair = 1});
        bench.engine.contact_end(1);
        bench.engine.contact("a", "b", {.strength = second, .pair = 2});
        bench.engine.contact_end(2);
        bench.decided(4800);
        CHECK(bench.engine.looping() == 0);
        CHECK(bench.engine.sounding() == 0);
    }
}

TEST_CASE("A dial that is set between two contacts counts for the second alone", "[order]") {
    Bench bench("[dial.wet]\nstart = 0\n[sound.s]\ntakes = [\"tone\"]\nlimit = { plays = 1000 }\n" +
                binding("contact = [\"a\", \"b\"]", "play = \"s\"", "when = \"wet = 1\""));
    bench.engine.contact("a", "b", {.strength = 0.2f});
    bench.engine.set_dial("wet", 1);
    bench.engine.contact("a", "b", {.strength = 0.9f});
    CHECK(bench.told() == "not-met, played s");
}

TEST_CASE("Of contacts at one frame the strongest are heard, in whatever order they come", "[order][limit]") {
    const auto strengths = [](const std::string& limit, const std::vector<float>& given) {
        Bench bench("[sound.s]\ntakes = [\"tone\"]\nlimit = " + limit +
                    "\nfollow = [{ value = \"strength\", target = \"gain\", curve = [[0, -40], [1, 0]] }]\n" +
                    binding("contact = [\"a\", \"b\"]", "play = \"s\""));
        for (const float strength : given) bench.engine.contact("a", "b", {.strength = strength});
        std::vector<int> heard; // hundredths
        std::vector<std::uint32_t> stolen;
        for (const auto& d : bench.everything(1)) {
            if (d.outcome == Outcome::stolen) stolen.push_back(d.play);
            if (d.outcome == Outcome::played)
                heard.push_back(static_cast<int>(100 + d.layers.at(0).gain / 0.4f + 0.5f));
        }
        std::vector<int> left;
        for (std::size_t i = 0; i < heard.size(); ++i)
            if (std::find(stolen.begin(), stolen.end(), i + 1) == stolen.end()) left.push_back(heard[i]);
        std::sort(left.begin(), left.end());
        return left;
    };
    const std::vector<int> strongest{80, 90};
    for (const std::vector<float>& given :
         {std::vector<float>{0.9f, 0.8f, 0.3f, 0.1f}, {0.1f, 0.3f, 0.8f, 0.9f}, {0.8f, 0.1f, 0.9f, 0.3f}})
        for (const char* full : {"end-oldest", "end-quietest", "refuse"}) {
            INFO(full);
            CHECK(strengths(std::string("{ plays = 2, full = \"") + full + "\" }", given) == strongest);
        }
    CHECK(strengths("{ gap = \"10 ms\" }", {0.2f, 0.9f, 0.5f}) == std::vector<int>{90});
    CHECK(strengths("{ plays = 1, full = \"restart\" }", {0.2f, 0.9f, 0.5f}) == std::vector<int>{90});
}

TEST_CASE("The log says that strength decided, and a weaker contact is refused", "[order][limit]") {
    Bench bench("[sound.s]\ntakes = [\"tone\"]\nlimit = { plays = 1, full = \"refuse\" }\n" +
                binding("contact = [\"a\", \"b\"]", "play = \"s\""));
    for (const float strength : {0.5f, 0.9f, 0.7f}) bench.engine.contact("a", "b", {.strength = strength});
    CHECK(bench.told() == "played s, stolen s, played s, refused-limit s");
    CHECK(to_string(with_outcome(bench.log, Outcome::stolen).at(0).limit.value().full) ==
          std::string("stronger-contact"));
}

TEST_CASE("Timed calls keep their distance: starts, stops, pauses and values alike", "[order]") {
    Bench bench("[sound.s]\ntakes = [\"tone\"]\nloop = true\n");
    const auto now = [] { return std::chrono::steady_clock::now(); };
    const auto pass = [&](double seconds) { // the calls are stamped by the clock of the system
        for (const auto until = now() + std::chrono::duration<double>(seconds); now() < until;) {
        }
    };
    bench.engine.begin_block(now(), 9600);
    const auto begin = now();
    kiai::Play play = bench.engine.play("s");
    pass(0.011);
    const auto stopped_from = now();
    play.stop(kiai::Seconds(0.005));
    const auto stopped_to = now();
    bench.everything(48000);
    const auto ended = with_outcome(bench.log, Outcome::ended);
    REQUIRE(ended.size() == 1);
    const auto frames = [&](auto time) { return std::chrono::duration<double>(time - begin).count() * 48000; };
    CHECK(static_cast<double>(ended[0].length) >= frames(stopped_from) + 240 - 100);
    CHECK(static_cast<double>(ended[0].length) <= frames(stopped_to) + 240 + 100);
}

TEST_CASE("The strength of measured contacts does not depend on the block size", "[body][contact]") {
    const auto strength = [](kiai::Frames block) {
        Bench bench("[sound.s]\ntakes = [\"tone\"]\nfollow = [{ value = \"strength\", target = \"gain\", curve = [[0, "
                    "-40], [1000, 0]] }]\n" +
                    binding("contact = [\"a\", \"b\"]", "play = \"s\""));
        bench.engine.body(2, "b", {101.5f, 0}, 1);
        kiai::Frames rendered = 0;
        for (int frame = 0; frame < 40; ++frame) { // 300 units a second, reported 60 times a second
            const double seconds = frame / 60.0;
            bench.engine.body(1, "a", {static_cast<float>(300 * seconds), 0}, 1, kiai::Seconds(seconds));
            for (; rendered < 800 * frame; rendered += block)
                for (const auto& d : bench.everything(block))
                    if (d.outcome == Outcome::played) return 1000 * (d.layers.at(0).gain + 40) / 40;
        }
        return 0.0f;
    };
    for (const kiai::Frames block : {64, 256, 512, 1024, 2048}) CHECK(strength(block) == Approx(300).epsilon(0.001));
}
