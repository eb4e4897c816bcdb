// What an app forgets to report, or reports too often: the engine finds it and names the call.
#include "support/bench.h"

#include <catch2/catch.hpp>

using namespace support;
using kiai::FindingCode;
using kiai::Outcome;

namespace {

struct Watched : Bench {
    explicit Watched(const std::string& text) : Bench(text) {
        engine.set_findings([this](const kiai::Finding& finding) { found.push_back(finding); });
    }
    std::size_t count(FindingCode code) const {
        return static_cast<std::size_t>(
            std::count_if(found.begin(), found.end(), [&](const auto& one) { return one.code == code; }));
    }
    const kiai::Finding& first(FindingCode code) const {
        return *std::find_if(found.begin(), found.end(), [&](const auto& one) { return one.code == code; });
    }
    std::vector<kiai::Finding> found;
};

const std::string bound_keys =
    "[sound.s]\ntakes = [\"tone\"]\n" + binding("key-down = \"KeyB\"", "play = \"s\"") +
    "[zone.b1]\ncircle = { x = 0, y = 0, r = 5 }\n[zone.b2]\ncircle = { x = 20, y = 0, r = 5 }\n" +
    binding("press = \"b1\"", "play = \"s\"") + binding("press = \"b2\"", "play = \"s\"");

} // namespace

TEST_CASE("A key that is pressed again without its end is found within two seconds", "[input]") {
    for (const kiai::Frames apart : {4800, 24000, 60000}) {
        Watched bench(bound_keys);
        for (kiai::Frames at = 0; at < 96000; at += apart) {
            bench.engine.key_down("KeyB");
            bench.everything(apart);
        }
        INFO(apart << " frames apart");
        REQUIRE(bench.count(FindingCode::input_unended) == 1);
        const auto& finding = bench.first(FindingCode::input_unended);
        CHECK(finding.message == "your app called key_down(\"KeyB\") again without key_up, so only the first is heard");
        CHECK(finding.fix.find("key_tap") != std::string::npos);
        CHECK(finding.file.empty());
    }
}

TEST_CASE("A keyboard's repeats and a button held in every frame are no mistakes", "[input]") {
    Watched bench(bound_keys);
    bench.engine.key_down("KeyB");
    bench.everything(24000); // half a second until the first repeat
    for (int i = 0; i < 100; ++i) {
        bench.engine.key_down("KeyB");
        bench.everything(1600);
    }
    bench.engine.key_up("KeyB");
    bench.engine.key_down("KeyB");
    for (int i = 0; i < 200; ++i) { // dragged from one zone to the other, reported sixty times a second
        bench.engine.press({static_cast<float>(i % 25), 0});
        bench.everything(800);
    }
    CHECK(bench.count(FindingCode::input_unended) == 0);
}

TEST_CASE("Presses of one pointer in several zones without a release are found", "[input]") {
    Watched bench(bound_keys);
    for (int i = 0; i < 4; ++i) {
        bench.engine.press({i % 2 == 0 ? 0.0f : 20.0f, 0});
        bench.everything(24000);
    }
    REQUIRE(bench.count(FindingCode::input_unended) == 1);
    CHECK(bench.first(FindingCode::input_unended).fix.find("click(") != std::string::npos);
}

TEST_CASE("click and key_tap press and release: each is heard, and none is left down", "[input]") {
    Watched bench(bound_keys);
    for (int i = 0; i < 5; ++i) {
        bench.engine.click({0, 0});
        bench.engine.key_tap("KeyB");
        bench.everything(24000);
        CHECK(with_outcome(bench.log, Outcome::played).size() == 2);
    }
    CHECK(bench.count(FindingCode::input_unended) == 0);
}

TEST_CASE("A key code that is none is reported with the nearest, a proper one is not", "[input]") {
    const std::pair<const char*, const char*> cases[] = {
        {"a", "KeyA"}, {"B", "KeyB"}, {"65", "KeyA"}, {"space", "Space"}};
    for (const auto& [code, near] : cases) {
        Watched bench(bound_keys);
        bench.engine.key_tap(code);
        bench.everything(64);
        REQUIRE(bench.count(FindingCode::unknown_key_code) == 1);
        CHECK(bench.first(FindingCode::unknown_key_code).fix == std::string("did you mean \"") + near + "\"?");
    }
    Watched bench(bound_keys);
    bench.engine.key_tap("KeyC");
    bench.everything(64);
    CHECK(bench.count(FindingCode::unknown_key_code) == 0);
    CHECK(with_outcome(bench.log, Outcome::no_binding).at(0).nearest.empty());
}

TEST_CASE("A notice that nothing is bound to is found, with the call in the app", "[input]") {
    Watched bench("[sound.s]\ntakes = [\"tone\"]\n" + binding("notice = \"full\"", "play = \"s\""));
    bench.engine.notice("fill");
    bench.engine.notice("fill");
    bench.engine.contact("a", "b");
    bench.everything(64);
    REQUIRE(bench.count(FindingCode::nothing_bound) == 2); // each once
    const kiai::Finding found = bench.first(FindingCode::nothing_bound);
    CHECK(found.message == "your app called notice(\"fill\"), but nothing is bound to it");
    CHECK(found.fix == "did you mean \"full\"?");
    CHECK(found.file.empty());
}

TEST_CASE("A contact in every frame without a pair, and bursts of plays, are found", "[input]") {
    Watched contacts("[sound.s]\ntakes = [\"tone\"]\n" + binding("contact = [\"a\", \"b\"]", "play = \"s\""));
    for (int i = 0; i < 60; ++i) {
        contacts.engine.contact("a", "b");
        contacts.everything(800);
    }
    REQUIRE(contacts.count(FindingCode::every_frame) == 1);
    CHECK(contacts.first(FindingCode::every_frame).message.find("contact(\"a\", \"b\")") != std::string::npos);

    Watched paired("[sound.s]\ntakes = [\"tone\"]\n" + binding("contact = [\"a\", \"b\"]", "play = \"s\""));
    for (int i = 0; i < 60; ++i) { // one marble after the other
        paired.engine.contact("a", "b", {.pair = static_cast<std::uint64_t>(i) + 1});
        paired.everything(800);
    }
    CHECK(paired.count(FindingCode::every_frame) == 0);

    Watched bursts("[sound.s]\ntakes = [\"tone\"]\n");
    for (int burst = 0; burst < 6; ++burst) {
        for (int i = 0; i < 12; ++i) {
            bursts.engine.play("s");
            bursts.everything(800);
        }
        bursts.everything(24000);
    }
    REQUIRE(bursts.count(FindingCode::every_frame) == 1);
    CHECK(bursts.first(FindingCode::every_frame).message.find("play(\"s\")") != std::string::npos);
}

TEST_CASE("A watch waits for the first value of its dial, or for a declared start", "[watch]") {
    const std::string watch =
        "[sound.w]\ntakes = [\"tone\"]\nloop = true\n" + binding("watch = \"oil < 20\"", "hold = \"w\"");
    Watched unset("[dial.oil]\nrange = [0, 200]\n" + watch);
    unset.everything(9600);
    CHECK(unset.engine.sounding() == 0);
    unset.engine.set_dial("oil", 80);
    unset.everything(9600);
    CHECK(unset.engine.sounding() == 0);
    unset.engine.set_dial("oil", 10);
    unset.everything(64);
    CHECK(unset.engine.looping() == 1);
    Watched declared("[dial.oil]\nrange = [0, 200]\nstart = 5\n" + watch);
    declared.everything(64);
    CHECK(declared.engine.looping() == 1);
}
