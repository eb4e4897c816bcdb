// `render` uses no memory, no lock and no system call, whatever it must do.
#include "support/project_folder.h"
#include "support/run_tool.h"
#include "support/storm.h"
#include "watched.h"

#include <catch2/catch.hpp>

#include <atomic>
#include <cstdlib>
#include <memory>
#include <mutex>
#include <thread>
#include <unistd.h>

using namespace support;

namespace {

/// Runs on a thread of its own that may no longer make system calls.
template<class Work>
void watched_thread(const Work& work) {
    std::thread thread([&] {
        void* volatile first = std::malloc(64); // a thread's first piece of memory asks the system for more
        std::free(first);
        watched::forbid_system_calls();
        work();
        watched::leave();
    });
    thread.join();
}

/// Renders until it is stopped.
void render_until(kiai::Engine& engine, const std::atomic<bool>& stop) {
    static thread_local float block[2 * 256];
    for (int i = 0; !stop; ++i) {
        const watched::Watch watch;
        engine.render(std::span(block, 2 * (1 + static_cast<std::size_t>(i) * 37 % 256)));
    }
}

} // namespace

TEST_CASE("A storm from eight threads: render takes no memory, no lock and no system call", "[realtime]") {
    const StormProject project;
    kiai::Engine engine(project.first(), {.seed = 3, .voices = 64, .reports = 1 << 16, .record_levels = true});
    std::uint64_t played = 0, stolen = 0, refused = 0, changed = 0, streamed = 0;
    engine.set_findings({});
    engine.set_log([&](const kiai::Decision& decision) {
        played += decision.outcome == kiai::Outcome::played ? 1 : 0;
        streamed += decision.outcome == kiai::Outcome::played && decision.sound == "far" ? 1 : 0;
        stolen += decision.outcome == kiai::Outcome::stolen ? 1 : 0;
        refused += decision.outcome == kiai::Outcome::refused_gap ? 1 : 0;
        changed += decision.outcome == kiai::Outcome::changed ? 1 : 0;
    });
    render(engine, 256);
    watched::forget();
    std::atomic<bool> stop{false};
    std::thread controller([&] {
        const Storm storm(engine, project, 8, 60000);
        while (!storm.over()) std::this_thread::yield();
        stop = true;
    });
    watched_thread([&] { render_until(engine, stop); });
    controller.join();
    engine.poll();
    CHECK(watched::counts.memory == 0);
    CHECK(watched::counts.locks == 0);
    CHECK(watched::counts.statics == 0);
    INFO("the last system call was " << watched::counts.last_call);
    CHECK(watched::counts.calls == 0);
    CHECK(played > 1000); // it was a storm
    CHECK(streamed > 10);
    CHECK(stolen > 100);
    CHECK(refused > 10);
    CHECK(changed > 10);
}

TEST_CASE("The demo's half minute, rendered without a system call", "[realtime]") {
    const kiai::Trace trace = kiai::load_trace(demo() / "run.jsonl").trace;
    kiai::Engine engine(kiai::load_project(demo()).project, {.seed = 7, .voices = 24, .record_levels = true});
    engine.set_log({});
    for (const kiai::TraceLine& line : trace.lines) engine.report(line.report, line.due(48000));
    watched::forget();
    watched_thread([&] {
        static float block[2 * 300];
        while (engine.now() < 48000 * 30) {
            const watched::Watch watch;
            engine.render(block);
        }
    });
    CHECK(watched::counts.memory == 0);
    CHECK(watched::counts.locks == 0);
    CHECK(watched::counts.statics == 0);
    CHECK(watched::counts.calls == 0);
}

TEST_CASE("The first press of an engine, outside all zones, makes nothing at its first use", "[realtime]") {
    kiai::Engine engine(project_of(Signal(100, 0.1f), "[zone.z]\ncircle = { x = 0, y = 0, r = 5 }\n"), {.seed = 1});
    engine.press({1000, 1000});
    engine.play("tone");
    watched::forget();
    watched_thread([&] {
        static float block[2 * 256];
        const watched::Watch watch;
        engine.render(block);
    });
    CHECK(watched::counts.statics == 0);
    CHECK(watched::counts.memory == 0);
}

TEST_CASE("One seeded fault of each kind is seen", "[realtime]") {
    watched::forget();
    static std::unique_ptr<int> kept; // seen from outside, so that the compiler cannot leave it out
    static std::mutex lock;
    watched_thread([] {
        const watched::Watch watch;
        kept = std::make_unique<int>(1);
    });
    CHECK(watched::counts.memory >= 1);
    CHECK(watched::counts.locks == 0);
    watched::forget();
    watched_thread([] {
        const watched::Watch watch;
        const std::lock_guard guard(lock);
    });
    CHECK(watched::counts.locks == 2); // and unlock
    CHECK(watched::counts.memory == 0);
    CHECK(watched::counts.calls == 0);
    watched::forget();
    watched_thread([] { (void)getppid(); });
    CHECK(watched::counts.calls == 1);
    watched::forget();
    static volatile int one = 1;
    watched_thread([] {
        const watched::Watch watch;
        static const int made = one; // not known before it runs
        one = made;
    });
    CHECK(watched::counts.statics == 1);
}
