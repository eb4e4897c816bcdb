// One thread renders while four others make calls.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <atomic>
#include <cmath>
#include <map>
#include <thread>

using namespace support;

TEST_CASE("Four threads report while a fifth renders and a sixth reads the log", "[threads]") {
    kiai::Engine engine(kiai::load_project(demo()).project, {.seed = 1, .reports = 16384, .record_levels = true});
    std::uint64_t answered = 0, lost = 0, played = 0, ended = 0, torn = 0;
    engine.set_log([&](const kiai::Decision& decision) {
        lost += decision.outcome == kiai::Outcome::ring_full || decision.outcome == kiai::Outcome::log_full
                    ? decision.count
                    : 0;
        if (decision.outcome == kiai::Outcome::played) {
            ++played; // and is read with all of its layers, or not yet
            const std::size_t layers = decision.layers.size();
            torn += decision.sound == "clatter" ? (layers == 2 || layers == 3 ? 0 : 1) // one comes by chance
                    : layers == (decision.sound == "hopper" ? 2u : 1u) ? 0
                                                                       : 1;
        }
        ended += decision.outcome == kiai::Outcome::ended ? 1 : 0;
        answered +=
            decision.cause > 0 && decision.outcome != kiai::Outcome::ended && decision.outcome != kiai::Outcome::stolen
                ? 1
                : 0;
    });

    std::atomic<int> calling{4};
    std::atomic<bool> bounded{true}, rendering{true};
    constexpr int calls = 3000;
    const auto caller = [&](int number) {
        std::vector<kiai::Play> plays;
        for (int i = 0; i < calls; ++i) {
            switch ((i + number) % 6) {
            case 0:
                engine.contact("marble", "oak", {.strength = 0.5f, .place = 0.1f});
                break;
            case 1:
                engine.notice("run-complete");
                break;
            case 2:
                engine.notice("never-heard-of-" + std::to_string(number * calls + i));
                break; // a name that is new each time
            case 3:
                plays.push_back(engine.play("glass", {.gain = -6}));
                break;
            case 4:
                engine.press({118, 82}, static_cast<std::uint64_t>(number));
                engine.release(static_cast<std::uint64_t>(number));
                break;
            case 5:
                if (!plays.empty()) plays.back().set_gain(-12), plays.back().stop(), plays.pop_back();
                break;
            }
            if (i % 64 == 0) std::this_thread::yield();
        }
        --calling;
    };
    std::thread renderer([&] {
        std::vector<float> block(2 * 128);
        while (calling > 0 || engine.sounding() > 0) {
            engine.render(block);
            for (const float sample : block)
                if (!(std::abs(sample) <= 1.0f)) bounded = false;
        }
        for (int i = 0; i < 100; ++i) engine.render(block); // serves the last calls
        rendering = false;
    });
    std::vector<std::thread> callers;
    for (int number = 0; number < 4; ++number) callers.emplace_back(caller, number);
    std::vector<kiai::PlayLevel> levels(256);
    while (rendering) {
        engine.poll();
        engine.read_levels(levels);
    }
    for (std::thread& thread : callers) thread.join();
    renderer.join();
    while (engine.sounding() > 0) render(engine, 4800); // what was reported after the renderer's last look
    engine.poll();
    CHECK(bounded);
    CHECK(played > 100);
    CHECK(played == ended);
    CHECK(torn == 0);
    CHECK(lost == 0);
    CHECK(answered > 4 * calls / 2);
    CHECK(engine.sounding() == 0);
}

TEST_CASE("A decision is read whole while others are written", "[threads]") {
    kiai::Engine engine(kiai::load_project(demo()).project, {.seed = 1, .reports = 16384});
    std::uint64_t played = 0, torn = 0;
    engine.set_log([&](const kiai::Decision& decision) {
        if (decision.outcome != kiai::Outcome::played) return;
        ++played;
        torn += decision.layers.size() == 2 && decision.sound == "hopper" ? 0 : 1;
    });
    std::atomic<bool> rendering{true};
    std::thread renderer([&] {
        std::vector<float> block(2 * 16);
        for (int i = 0; i < 20000; ++i) {
            engine.play("hopper");
            engine.render(block);
        }
        rendering = false;
    });
    while (rendering) engine.poll();
    renderer.join();
    engine.poll();
    CHECK(played == 20000);
    CHECK(torn == 0);
}

TEST_CASE("Many threads add the same names at once", "[threads]") {
    kiai::Engine engine(project_of(Signal(10, 0.1f)), {.seed = 1, .reports = 16384});
    std::vector<std::thread> threads;
    for (int number = 0; number < 4; ++number)
        threads.emplace_back([&] {
            for (int i = 0; i < 1000; ++i) engine.notice("name-" + std::to_string(i));
        });
    for (std::thread& thread : threads) thread.join();
    std::map<std::string, int> counts;
    engine.set_log([&](const kiai::Decision& decision) { ++counts[decision.on]; });
    render(engine, 16);
    engine.poll();
    REQUIRE(counts.size() == 1000);
    for (const auto& [name, count] : counts) CHECK(count == 4);
}
