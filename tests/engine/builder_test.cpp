// A project made in code, without files.
#include "support/signal.h"

#include <kiai/builder.h>
#include <kiai/engine.h>

#include <catch2/catch.hpp>

#include <cmath>

using kiai::FindingCode;
using kiai::ProjectBuilder;
using kiai::Samples;
using kiai::Setting;
using kiai::Settings;

namespace {

Samples tone(double hertz, int frames) {
    Samples samples{48000, 1, {}};
    for (int i = 0; i < frames; ++i)
        samples.interleaved.push_back(0.5f * static_cast<float>(std::sin(2 * M_PI * hertz * i / 48000)));
    return samples;
}

std::vector<kiai::Decision> decisions_of(kiai::Engine& engine, int frames = 4800) {
    std::vector<kiai::Decision> decisions;
    engine.set_log([&](const kiai::Decision& decision) { decisions.push_back(decision); });
    std::vector<float> block(static_cast<std::size_t>(frames) * 2);
    engine.render(block);
    engine.poll();
    return decisions;
}

} // namespace

TEST_CASE("A project made in code plays its clips as they are", "[builder]") {
    const Samples tock = tone(440, 480);
    const kiai::LoadResult built = ProjectBuilder().clip("tock", tock).build();
    for (const kiai::Finding& finding : built.findings) INFO(finding);
    REQUIRE(built.findings.empty());
    kiai::Engine engine(built.project);
    engine.play("tock");
    std::vector<float> out(2 * 1000);
    engine.render(out);
    const auto delay = static_cast<std::size_t>(engine.latency());
    for (std::size_t i = 0; i < 480; ++i) {
        REQUIRE(out[2 * (i + delay)] == tock.interleaved[i]);
        REQUIRE(out[2 * (i + delay) + 1] == tock.interleaved[i]);
    }
    for (std::size_t i = 480 + delay; i < 1000; ++i) REQUIRE(out[2 * i] == 0);
}

TEST_CASE("All that kiai.toml can say can be said in code", "[builder]") {
    ProjectBuilder builder;
    for (const char* name : {"oak-1", "oak-2", "oak-3"}) builder.clip(name, tone(300, 960));
    builder.set("name", "marble-run")
        .set("sound.oak", Settings{{"takes", Settings{{"series", "oak"}}}, {"vary", Settings{{"gain", 2}}}})
        .set("sound.oak.vary.pitch", 1.0)
        .set("sound.oak.limit", Settings{{"plays", 1}, {"full", "refuse"}})
        .set("dial.fill.range", Setting{0, 1})
        .set("zone.hopper", Settings{{"circle", Settings{{"x", 120}, {"y", 80}, {"r", 40}}}})
        .add("binding", {{"trigger", Settings{{"press", "hopper"}}}, {"action", Settings{{"play", "oak"}}}})
        .add("binding", {{"trigger", Settings{{"contact", {"marble", "oak"}}}},
                         {"when", "fill > 0.5"},
                         {"action", Settings{{"play", "oak"}}}})
        .add("sound.hopper.layer", {{"takes", Setting{"oak-1"}}, {"delay", "10 ms"}})
        .add("sound.hopper.layer", {{"takes", Setting{"oak-2", "oak-3"}}, {"gain", "-6 dB"}})
        .add("binding", {{"trigger", Settings{{"key-down", "KeyT"}}}, {"action", Settings{{"play", "hopper"}}}});
    const kiai::LoadResult built = builder.build();
    for (const kiai::Finding& finding : built.findings) UNSCOPED_INFO(finding);
    REQUIRE(built.ok());
    CHECK(built.project.name() == "marble-run");
    kiai::Engine engine(built.project, {.seed = 1});
    engine.press({118, 82});
    engine.contact("oak", "marble");
    engine.key_down("KeyT");
    const auto decisions = decisions_of(engine);
    REQUIRE(decisions.size() >= 3);
    CHECK(decisions[0].outcome == kiai::Outcome::played);
    CHECK(decisions[0].sound == "oak");
    CHECK(std::abs(decisions[0].layers.at(0).pitch) <= 1);
    CHECK(decisions[0].layers.at(0).pitch != 0);
    CHECK(decisions[1].outcome == kiai::Outcome::not_met);
    CHECK(decisions[1].rule == "fill > 0.5");
    CHECK(decisions[2].sound == "hopper");
    REQUIRE(decisions[2].layers.size() == 2);
    CHECK(decisions[2].layers[0].delay == 480);
    CHECK(decisions[2].layers[1].gain == Approx(-6));
}

TEST_CASE("Mistakes in a project that is made in code are findings, and the rest plays", "[builder]") {
    Samples broken = tone(300, 100);
    broken.channels = 3;
    ProjectBuilder builder;
    builder.clip("tock", tone(300, 100)).clip("broken", broken);
    builder.set("clip.lost", "clips/lost.wav");
    builder.set("sound.oak.takes", Setting{"tock"}).set("sound.oak.pich", 3).set("sound.elm.takes", Setting{"tok"});
    const kiai::LoadResult built = builder.build();
    const auto of = [&](const std::string& entry) {
        for (const kiai::Finding& finding : built.findings)
            if (finding.entry == entry) return finding;
        return kiai::Finding{};
    };
    CHECK_FALSE(built.ok());
    CHECK(of("broken").code == FindingCode::bad_value);
    CHECK(of("lost").code == FindingCode::file_missing);
    CHECK(of("lost").fix.find("ProjectBuilder::clip") != std::string::npos);
    CHECK(of("oak").code == FindingCode::unknown_key);
    CHECK(of("oak").fix == "did you mean `pitch`?");
    CHECK(of("elm").code == FindingCode::unknown_name);
    CHECK(to_string(of("oak")).starts_with("error: sound \"oak\": "));
    kiai::Engine engine(built.project);
    engine.play("tock");
    CHECK(decisions_of(engine).at(0).outcome == kiai::Outcome::played);
}

TEST_CASE("A builder replaces what is set again, and tells states of a project apart", "[builder]") {
    ProjectBuilder builder;
    builder.clip("tock", tone(300, 100)).set("sound.oak.takes", Setting{"tock"}).set("sound.oak.gain", -6);
    const kiai::LoadResult first = builder.build();
    REQUIRE(first.ok());
    const kiai::LoadResult again = builder.build();
    CHECK(first.project.fingerprint() == again.project.fingerprint());
    builder.set("sound.oak.gain", -3);
    const kiai::LoadResult louder = builder.build();
    CHECK(louder.project.fingerprint() != first.project.fingerprint());
    kiai::Engine engine(first.project);
    engine.set_project(louder.project);
    engine.play("oak");
    const auto decisions = decisions_of(engine);
    CHECK(decisions.back().layers.empty());
    for (const kiai::Decision& decision : decisions)
        if (decision.outcome == kiai::Outcome::played) CHECK(decision.layers.at(0).gain == Approx(-3));
    builder.set("sound.oak", true); // no table any longer
    CHECK(builder.build().findings.at(0).code == FindingCode::wrong_type);
    builder.set("sound.oak.takes", Setting{"tock"}); // and one again
    CHECK(builder.build().ok());
}
