// The speaker: without a device time continues; with a device, the rendered samples are heard.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/open.h>

#include <catch2/catch.hpp>

#include <chrono>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <memory>
#include <thread>

using namespace support;
using namespace std::chrono_literals;

namespace {

/// Polls until another thread has made the condition true; returns false after ten seconds.
template<class Condition>
bool comes(kiai::Engine& engine, Condition condition) {
    const auto patience = std::chrono::steady_clock::now() + 10s;
    while (!condition() && std::chrono::steady_clock::now() < patience) {
        engine.poll();
        std::this_thread::yield();
    }
    return condition();
}

} // namespace

TEST_CASE("Plays end while a speaker renders, whether or not there is a device", "[speaker]") {
    kiai::Engine engine(project_of(Signal(4800, 0.01f)), {.seed = 1});
    {
        kiai::Speaker speaker(engine);
        const kiai::Play play = engine.play("tone");
        CHECK(comes(engine, [&] { return !play.playing(); }));
        CHECK(play.reason() == kiai::EndReason::finished);
        CHECK(comes(engine, [&] { return speaker.status() != "opening"; }));
        INFO(speaker.status());
        CHECK(speaker.status().find(speaker.playing() ? " at 48000" : "silent: ") != std::string::npos);
    }
    const kiai::Frames stopped = engine.now();
    std::this_thread::yield();
    CHECK(engine.now() == stopped); // nothing renders after its end
}

TEST_CASE("An output that is missing is said by name, and time continues", "[speaker]") {
    kiai::Engine engine(project_of(Signal(4800, 0.01f)), {.seed = 1});
    kiai::Speaker speaker(engine, {.device = "no such output"});
    CHECK_FALSE(speaker.wait_until_open());
    CHECK(speaker.latency().count() == 0);
    const kiai::Play play = engine.play("tone");
    CHECK(comes(engine, [&] { return !play.playing(); }));
    CHECK(comes(engine, [&] { return speaker.status().find("silent: ") == 0; }));
}

// Run by `with-restarted-server`: prints the state of the speaker until it is stopped.
TEST_CASE("A hum that lasts", "[.hum]") {
    kiai::Engine engine(project_of(sine(480, 0.5, 48000), "[sound.hum]\ntakes = [\"tone\"]\nloop = true\n"),
                        {.seed = 1});
    const kiai::Speaker speaker(engine);
    engine.play("hum");
    std::string said;
    const auto patience = std::chrono::steady_clock::now() + 60s;
    while (!std::filesystem::exists("stop") && std::chrono::steady_clock::now() < patience) {
        const std::string now = speaker.playing() ? "playing" : "silent";
        if (now != said) std::ofstream("story", std::ios::app) << now << " at " << engine.now() << std::endl;
        said = now;
        engine.poll();
        std::this_thread::yield();
    }
    CHECK(engine.sounding() == 1);
}

TEST_CASE("A hum after a slow start", "[.hum]") {
    kiai::Engine engine(project_of(sine(480, 0.5, 48000), "[sound.hum]\ntakes = [\"tone\"]\nloop = true\n"),
                        {.seed = 1});
    kiai::Speaker speaker(engine);
    CHECK_FALSE(speaker.wait_until_open(20s));
    CHECK(speaker.status().find("does not start") != std::string::npos);
    const auto patience = std::chrono::steady_clock::now() + 20s;
    while (!speaker.playing() && std::chrono::steady_clock::now() < patience) std::this_thread::sleep_for(10ms);
    REQUIRE(speaker.playing());
    engine.play("hum");
    const kiai::Frames enough = engine.now() + 24000;
    while (engine.now() < enough) engine.poll(), std::this_thread::sleep_for(10ms);
    CHECK(engine.sounding() == 1);
}

TEST_CASE("A sound that is asked about, without its device and with it", "[.hum]") {
    kiai::Engine engine(project_of(sine(480, 0.3, 96000)), {.seed = 1});
    engine.set_log({});
    engine.play("tone");
    const auto ask = [&](const kiai::Speaker& speaker) {
        const kiai::Frames enough = engine.now() + 4800;
        while (engine.now() < enough) engine.poll();
        return kiai::why_silent(engine, "tone", &speaker);
    };
    {
        kiai::Speaker nowhere(engine, {.device = "there is none of this name"});
        nowhere.wait_until_open();
        const kiai::Diagnosis why = ask(nowhere);
        REQUIRE_FALSE(why.heard());
        CHECK(why.broken()->link == kiai::Link::device);
    }
    kiai::Speaker speaker(engine); // as the fix says: another output
    REQUIRE(speaker.wait_until_open(10s));
    const kiai::Diagnosis why = ask(speaker);
    CHECK(why.heard());
    CHECK(why.chain.back().link == kiai::Link::device);
    while (engine.sounding() > 0) engine.poll();
}

TEST_CASE("A run of marbles that is recorded", "[.hum]") {
    kiai::Engine engine(kiai::load_project(demo()).project, {.seed = 7});
    engine.set_log({});
    kiai::Speaker speaker(engine);
    speaker.wait_until_open();
    engine.start_recording();
    const kiai::Frames begin = engine.now();
    for (int step = 0; engine.now() < begin + 96000; ++step) {
        const char* piece = step % 3 == 0 ? "oak" : step % 3 == 1 ? "brass" : "glass";
        engine.contact("marble", piece, {.strength = 0.4f + 0.1f * static_cast<float>(step % 6), .place = 0.3f});
        if (step == 2) engine.play("lift", {.gain = -6}).stop();
        const kiai::Frames next = engine.now() + 4800;
        while (engine.now() < next) engine.poll();
    }
    const std::filesystem::path out = std::getenv("KIAI_OUT");
    CHECK(kiai::save_trace(out / "run.jsonl", engine.stop_recording()).empty());
    while (engine.sounding() > 0) engine.poll();
}

TEST_CASE("An engine may go before its speaker", "[speaker]") {
    auto engine = std::make_unique<kiai::Engine>(project_of(Signal(4800, 0.01f)), kiai::EngineSettings{.seed = 1});
    const kiai::Speaker speaker(*engine);
    engine.reset();
    std::this_thread::yield();
}

TEST_CASE("What was opened lets its sounds end before it goes", "[speaker]") {
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\n[sound.hum]\ntakes = [\"tone\"]\nloop = true\n");
    folder.write_wav("tone.wav", Signal(9600, 0.01f));
    std::vector<kiai::Decision> log;
    {
        auto opened = kiai::open(folder.path());
        opened.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
        opened.play("tone");
        opened.play("hum");
    }
    const auto ended = with_outcome(log, kiai::Outcome::ended);
    REQUIRE(ended.size() == 2);
    for (const kiai::Decision& decision : ended)
        CHECK(decision.reason == (decision.sound == "tone" ? kiai::EndReason::finished : kiai::EndReason::stopped));
}

TEST_CASE("What was opened lets its sounds end even if its thread is late", "[speaker]") {
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\n[sound.hum]\ntakes = [\"tone\"]\nloop = true\n");
    folder.write_wav("tone.wav", Signal(9600, 0.01f));
    std::vector<kiai::Decision> log;
    {
        auto opened = kiai::open(folder.path());
        opened.set_log([&](const kiai::Decision& decision) {
            log.push_back(decision);
            if (decision.sound == "tone") std::this_thread::sleep_for(400ms);
        });
        opened.play("tone");
        std::this_thread::sleep_for(100ms);
        opened.play("hum");
    }
    const auto ended = with_outcome(log, kiai::Outcome::ended);
    REQUIRE(ended.size() == 2);
    CHECK(ended[1].reason == kiai::EndReason::stopped);
}

namespace {

/// What 200 calls led to that were made every three milliseconds, to an engine that renders blocks when they are due.
struct Placed {
    std::size_t started = 0;
    std::size_t exact = 0; ///< how many of the last 100 started as long after the one before as they were called
    int late = 0;
};

Placed place_calls(int block) {
    kiai::Engine engine(project_of(Signal(100, 0.1f)), {.seed = 1});
    std::vector<kiai::Frames> begun;
    Placed placed;
    engine.set_findings({});
    engine.set_log([&](const kiai::Decision& decision) {
        if (decision.outcome == kiai::Outcome::played) begun.push_back(decision.frame);
        placed.late += decision.outcome == kiai::Outcome::late ? 1 : 0;
    });
    using Clock = std::chrono::steady_clock;
    std::vector<float> out(2 * static_cast<std::size_t>(block));
    std::atomic<bool> stop{false};
    std::thread renderer([&] { // as a device does: a block when it is due
        const auto begin = Clock::now();
        while (!stop) {
            const auto due = begin + std::chrono::duration_cast<Clock::duration>(
                                         std::chrono::duration<double>(static_cast<double>(engine.now()) / 48000));
            while (Clock::now() < due) std::this_thread::yield();
            engine.begin_block(Clock::now(), 2 * block + 2400);
            engine.render(out);
        }
    });
    std::vector<double> called;
    for (int i = 0; i < 200; ++i) {
        const auto next = Clock::now() + std::chrono::milliseconds(3);
        while (Clock::now() < next) std::this_thread::yield();
        called.push_back(std::chrono::duration<double>(Clock::now().time_since_epoch()).count());
        engine.play("tone");
    }
    const auto last = engine.now() + 4 * block + 9600;
    while (engine.now() < last) std::this_thread::yield();
    stop = true;
    renderer.join();
    engine.poll();
    placed.started = begun.size();
    if (placed.started != 200) return placed;
    // To a third of a millisecond, because the test may be suspended between two readings of the clock.
    for (std::size_t i = 100; i < 200; ++i)
        placed.exact +=
            std::abs(static_cast<double>(begun[i] - begun[i - 1]) - (called[i] - called[i - 1]) * 48000) < 16 ? 1 : 0;
    return placed;
}

} // namespace

TEST_CASE("With `placed`, two calls keep their distance in time, whatever the block size", "[speaker]") {
    for (const int block : {64, 1024}) {
        Placed placed;
        for (int tries = 0; tries < 3; ++tries) { // a busy machine may suspend either thread for many calls
            placed = place_calls(block);
            REQUIRE(placed.started == 200);
            if (placed.exact >= 90 && placed.late < 20) break;
        }
        INFO("blocks of " << block);
        CHECK(placed.exact >= 90);
        CHECK(placed.late < 20);
    }
}

TEST_CASE("Where a device asks for its first blocks all at once, placed calls soon land where later ones do",
          "[speaker]") {
    using Clock = std::chrono::steady_clock;
    constexpr int block = 512, at_once = 4, blocks = 60;
    kiai::Engine engine(project_of(Signal(100, 0.1f)), {.seed = 1});
    std::vector<kiai::Frames> begun;
    engine.set_log([&](const kiai::Decision& decision) {
        if (decision.outcome == kiai::Outcome::played) begun.push_back(decision.frame);
    });
    std::vector<float> out(2 * block);
    const auto now = Clock::now();
    kiai::Frames last = 0;
    for (int i = 0; i < blocks; ++i) { // the last of them is asked for now
        const int later = blocks - 1 - std::max(i, at_once - 1);
        last = engine.now();
        engine.begin_block(now - std::chrono::duration_cast<Clock::duration>(kiai::Seconds(later * block / 48000.0)),
                           2048);
        engine.render(out);
    }
    engine.play("tone");
    const kiai::Frames since =
        std::chrono::duration_cast<std::chrono::microseconds>(Clock::now() - now).count() * 48 / 1000;
    render(engine, 4800);
    engine.poll();
    REQUIRE(begun.size() == 1);
    CHECK(begun[0] - last - 2048 >= -24); // to half a millisecond, and what has passed since
    CHECK(begun[0] - last - 2048 <= since + 24);
}
