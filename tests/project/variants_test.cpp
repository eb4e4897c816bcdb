// Several settings of one sound, by name.
#include "support/project_folder.h"

#include <kiai/engine.h>
#include <kiai/workshop/edit.h>
#include <kiai/workshop/rehearse.h>

#include <catch2/catch.hpp>

using namespace support;

namespace {

const std::string clips = "[clip]\nloud = 'loud.wav'\nlow = 'low.wav'\n";
const std::string oak = "[sound.oak]\ntakes = ['loud']\ngain = -3\npan = 0.5\n";
const std::string soft = "[sound.oak.variant.soft]\ngain = -9\n";
const std::string other = "[sound.oak.variant.other]\ntakes = ['low']\npitch = 12\n";

struct Sounds : ProjectFolder {
    explicit Sounds(const std::string& text) : ProjectFolder(clips + text) {
        write_wav("loud.wav", sine(1000, 0.5, 48000));
        write_wav("low.wav", sine(500, 0.5, 48000));
    }
    kiai::LayerTake heard(const std::string& name) const {
        const kiai::Rehearsal rehearsal = kiai::hear(load(), name);
        const auto played = with_outcome(rehearsal.decisions, kiai::Outcome::played);
        REQUIRE(played.size() == 1);
        return played[0].layers.at(0);
    }
};

} // namespace

TEST_CASE("A variant is the sound with what it says otherwise, and is heard by NAME:VARIANT", "[variants]") {
    const Sounds sounds(oak + soft + other);
    CHECK(sounds.heard("oak").gain == Approx(-3));
    CHECK(sounds.heard("oak:soft").gain == Approx(-9));
    CHECK(sounds.heard("oak:soft").pan == Approx(0.5));
    CHECK(sounds.heard("oak:soft").clip == "loud");
    CHECK(sounds.heard("oak:other").clip == "low");
    CHECK(sounds.heard("oak:other").pitch == Approx(12));
    const kiai::Comparison both = kiai::compare(sounds.load(), "oak", "oak:soft");
    CHECK(both.loudness[0] - both.loudness[1] == Approx(6).margin(0.2));
    CHECK(both.lowered[0] == Approx(6).margin(0.2));
}

TEST_CASE("`use` says which variant a sound is, and may change while it plays", "[variants][change]") {
    const std::string loop = "[sound.oak]\ntakes = ['loud']\nloop = true\n";
    const Sounds sounds(loop + soft);
    kiai::Engine engine(sounds.load(), {.seed = 1});
    engine.play("oak");
    CHECK(fit_sine(side(render(engine, 9600), 0), 1000, 4800, 9600).amplitude == Approx(0.5).epsilon(0.001));
    sounds.toml(clips + loop + "use = 'soft'\n" + soft);
    engine.set_project(sounds.load());
    CHECK(db(fit_sine(side(render(engine, 9600), 0), 1000, 4800, 9600).amplitude) == Approx(db(0.5) - 9).margin(0.01));
}

TEST_CASE("A variant that is missing, or that is no variant, is an error with its place", "[variants]") {
    const auto [text, message, line] =
        GENERATE(table<std::string, std::string, int>({{"use = 'sofd'\n" + soft, "variant \"sofd\"", 9},
                                                       {"variant = 5\n", "not a table", 9},
                                                       {"[sound.oak.variant]\nsoft = 5\n", "\"soft\"", 10},
                                                       {soft + "use = 'soft'\n", "`use`", 11},
                                                       {soft + "gian = 3\n", "`gian`", 11}}));
    const Sounds sounds(oak + text);
    const auto loaded = sounds.load_with_findings();
    INFO(text);
    REQUIRE(loaded.findings.size() == 1);
    CHECK(loaded.findings[0].severity == kiai::Severity::error);
    CHECK(loaded.findings[0].message.find(message) != std::string::npos);
    CHECK(loaded.findings[0].line == line);
    CHECK_FALSE(loaded.findings[0].fix.empty());
}

TEST_CASE("Nothing in kiai.toml can name a variant, and it is asked to be bound by nobody", "[variants]") {
    const Sounds bound(oak + soft + "[[binding]]\ntrigger = { notice = 'a' }\naction = { play = 'oak:soft' }\n");
    REQUIRE(bound.load_with_findings().findings.size() == 1);
    CHECK(bound.load_with_findings().findings[0].code == kiai::FindingCode::unknown_name);
}

TEST_CASE("A clip that is renamed is renamed in variants too", "[variants][edit]") {
    const Sounds sounds(oak + other);
    REQUIRE(kiai::rename_entry(sounds.path(), "low", "deep", {kiai::EntryKind::clip}).ok());
    CHECK(sounds.read("kiai.toml").find("takes = ['deep']") != std::string::npos);
    CHECK(sounds.heard("oak:other").clip == "deep");
}
