// What an engine reports about its present state.
#include "support/bench.h"

#include <catch2/catch.hpp>

#include <atomic>
#include <thread>

using namespace support;
using kiai::ScopeState;
using std::chrono::milliseconds;

namespace {

const std::string text =
    "[dial.fill]\nrange = [0, 2]\nstart = 0.25\n[dial.other]\n[scope.bench]\non = true\n[scope.drawer]\n"
    "[zone.lid]\ncircle = { x = 10, y = 20, r = 5 }\n[bus.low]\n"
    "[sound.hum]\ntakes = ['tone']\nloop = true\nbus = 'low'\nlimit = { plays = 100 }\n" +
    binding("notice = 'turn'", "set = 'fill', to = 1.5") + binding("notice = 'hum'", "play = 'hum'", "scope = 'bench'");

} // namespace

TEST_CASE("Dials, scopes and zones are what they were last, whoever changed them", "[state]") {
    Bench bench(text);
    kiai::Engine& engine = bench.engine;
    CHECK(engine.dial("fill") == 0.25f);
    CHECK(engine.dial("nothing") == std::nullopt);
    CHECK(engine.scope("bench") == ScopeState::off); // no block has been rendered yet
    bench.decided();
    CHECK(engine.scope("bench") == ScopeState::on);
    CHECK(engine.scope("drawer") == ScopeState::off);
    CHECK(engine.scope("nothing") == ScopeState::off);
    CHECK(engine.zone("lid")->middle.x == 10);
    CHECK(engine.zone("lid")->scale == 1);
    CHECK(engine.zone("nothing") == std::nullopt);

    engine.notice("turn");
    engine.set_dial("other", 7); // held in its range
    engine.pause_scope("bench");
    engine.enter_scope("drawer");
    engine.move_zone("lid", {-3, 4}, 2);
    CHECK(engine.dial("fill") == 0.25f);
    bench.decided();
    CHECK(engine.dial("fill") == 1.5f);
    CHECK(engine.dial("other") == 1.0f);
    CHECK(engine.scope("bench") == ScopeState::paused);
    CHECK(engine.scope("drawer") == ScopeState::on);
    CHECK(engine.zone("lid")->middle.x == -3);
    CHECK(engine.zone("lid")->middle.y == 4);
    CHECK(engine.zone("lid")->scale == 2);
    engine.remove_zone("lid");
    bench.decided();
    CHECK(engine.zone("lid")->removed);

    engine.set_project(project_of(Signal(1000, 0.1f), "[dial.new]\nstart = 0.5\n" + text));
    bench.decided();
    CHECK(engine.dial("new") == 0.5f);
    CHECK(engine.dial("fill") == 1.5f);
    CHECK(engine.scope("bench") == ScopeState::paused);
    CHECK(engine.zone("lid")->middle.x == -3);
    CHECK(engine.zone("lid")->removed);
}

TEST_CASE("All plays that sound are reported, with what they belong to", "[state]") {
    Bench bench(text, Signal(48000, 0.1f));
    kiai::Engine& engine = bench.engine;
    kiai::Play first = engine.play("hum");
    bench.decided(480);
    engine.notice("hum");
    engine.play("tone", {}, "bench");
    bench.decided(480);
    first.pause();
    bench.decided(960);
    auto plays = engine.plays();
    REQUIRE(plays.size() == 3);
    CHECK(plays[0].number == 1);
    CHECK(plays[0].sound == "hum");
    CHECK(plays[0].bus == "low");
    CHECK(plays[0].scope == "");
    CHECK(plays[0].state == kiai::PlayState::paused);
    CHECK(plays[0].elapsed.count() == Approx(0.02));
    CHECK(plays[1].scope == "bench");
    CHECK(plays[1].elapsed.count() == Approx(0.03));
    CHECK(plays[2].sound == "tone");
    CHECK(plays[2].bus == "main");
    engine.stop("hum", kiai::Seconds(1));
    bench.decided(480);
    plays = engine.plays();
    REQUIRE(plays.size() == 2); // what was paused has ended at once
    CHECK(plays[0].number == 2);
    CHECK(plays[0].state == kiai::PlayState::fading);
    bench.decided(96000);
    CHECK(engine.plays().empty());
}

TEST_CASE("The load reports how near the engine is to its limits, and poll warns in time", "[state]") {
    kiai::Engine engine(project_of(Signal(48000, 0.01f), text), {.seed = 1, .voices = 16, .reports = 64});
    std::vector<kiai::Finding> findings;
    engine.set_findings([&](const kiai::Finding& finding) {
        if (finding.code == kiai::FindingCode::near_limit) findings.push_back(finding);
    });
    CHECK(engine.load().median == 0);
    kiai::Load load = engine.load();
    CHECK(load.most_voices == 16);
    CHECK(load.most_reports == 64);
    CHECK(load.most_scheduled == 32);
    CHECK(load.most_streams == 16);
    CHECK(load.memory == engine.project().memory());
    CHECK(load.memory >= 48000 * 2);
    for (int i = 0; i < 5; ++i) engine.play("hum");
    for (int i = 0; i < 30; ++i) engine.play("hum", {.delay = kiai::Seconds(100)});
    render(engine, 480, 480);
    load = engine.load();
    CHECK(load.voices == 5);
    CHECK(load.reports == 5);
    CHECK(load.scheduled == 30);
    CHECK(load.decisions >= 5);
    CHECK(load.median > 0);
    CHECK(load.worst >= load.median);
    render(engine, 48000);
    engine.poll();
    REQUIRE(findings.size() == 1);
    CHECK(findings[0].message == "30 of 32 scheduled reports are in use");
    CHECK(findings[0].severity == kiai::Severity::warning);
    for (int i = 0; i < 9; ++i) engine.play("hum");
    render(engine, 48000);
    engine.poll();
    REQUIRE(findings.size() == 2);
    CHECK(findings[1].message == "14 of 16 voices are in use");
    render(engine, 96000);
    engine.poll(); // once is enough
    CHECK(findings.size() == 2);
}

TEST_CASE("The time that blocks take is a warning while a device draws, and only then", "[state]") {
    struct Slow : kiai::Insert {
        void prepare(int, int) override {}
        void process(std::span<float> left, std::span<float>) override {
            const auto until =
                std::chrono::steady_clock::now() +
                std::chrono::nanoseconds(static_cast<long>(0.16e9 * static_cast<double>(left.size()) / 48000));
            while (std::chrono::steady_clock::now() < until) {
            }
        }
        void reset() override {}
    };
    const bool live = GENERATE(false, true);
    // Six buses in series share the time, so that no insert is too slow by itself on a busy machine.
    std::string row = "[bus.b1]\n";
    for (int bus = 2; bus <= 6; ++bus)
        row += "[bus.b" + std::to_string(bus) + "]\ninto = \"b" + std::to_string(bus - 1) + "\"\n";
    row += "[sound.hum]\ntakes = [\"tone\"]\nloop = true\nbus = \"b6\"\n";
    kiai::Engine engine(project_of(Signal(48000, 0.01f), row), {.seed = 1});
    std::vector<std::string> findings;
    engine.set_findings([&](const kiai::Finding& finding) { findings.push_back(finding.message); });
    for (int bus = 1; bus <= 6; ++bus) REQUIRE(engine.set_insert("b" + std::to_string(bus), std::make_shared<Slow>()));
    engine.play("hum");
    std::vector<float> block(512);
    while (engine.now() < 48000) {
        if (live) engine.begin_block(std::chrono::steady_clock::now(), 0);
        engine.render(block);
    }
    engine.poll();
    CHECK(engine.load().median >= 0.9);
    CHECK(findings.size() == (live ? 1u : 0u));
    if (live) CHECK(findings.at(0).starts_with("rendering takes "));
}

TEST_CASE("The state is read whole while another thread renders and the project changes", "[threads]") {
    kiai::Engine engine(project_of(Signal(480, 0.1f), text), {.seed = 1, .voices = 64});
    std::atomic<bool> going{true};
    std::thread renders([&] {
        std::vector<float> block(256);
        while (going) engine.render(block);
    });
    std::thread asks([&] {
        while (going) {
            for (const kiai::PlayingNow& play : engine.plays()) {
                if (play.sound != "hum" && play.sound != "tone") going = false;
                if (play.number == 0 || play.elapsed.count() < 0) going = false;
            }
            if (const auto fill = engine.dial("fill"); !fill || *fill < 0 || *fill > 2) going = false;
            if (!engine.zone("lid")) going = false;
            engine.scope("bench");
            if (engine.load().voices > 64) going = false;
        }
    });
    bool kept = true;
    for (int i = 0; i < 300 && (kept = going); ++i) {
        kiai::Play play = engine.play(i % 2 ? "hum" : "tone");
        play.position();
        engine.set_dial("fill", static_cast<float>(i % 3));
        engine.move_zone("lid", {static_cast<float>(i), 1});
        if (i % 4 == 0) engine.stop("hum");
        if (i % 10 == 0) engine.set_project(project_of(Signal(480, 0.1f), text + "\n# " + std::to_string(i) + "\n"));
        engine.poll();
        std::this_thread::sleep_for(milliseconds(1));
    }
    going = false;
    renders.join();
    asks.join();
    CHECK(kept);
}
