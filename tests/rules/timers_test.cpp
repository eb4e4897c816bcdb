#include "support/project_folder.h"
#include "support/signal.h"

#include <catch2/catch.hpp>

using namespace support;

namespace {

const char* const toml = R"(
[sound.hum]
takes = ["tone"]
[scope.bench]
on = true
[[binding]]
trigger = { every = "1s" }
action = { play = "hum" }
[[binding]]
trigger = { after = "2s" }
scope = "bench"
action = { play = "hum" }
)";

void run(kiai::Engine& engine, double seconds) {
    std::vector<float> out(2 * static_cast<std::size_t>(seconds * 48000));
    engine.render(out);
}

} // namespace

TEST_CASE("Timers that wait say how much time they have left") {
    kiai::Engine engine(project_of(Signal(480, 0.1f), toml), {.seed = 1});
    CHECK(engine.timers().empty()); // they start with the first block
    run(engine, 0.25);
    auto timers = engine.timers();
    REQUIRE(timers.size() == 2);
    CHECK(timers[0].binding == 1);
    CHECK(timers[0].trigger == "every 1s");
    CHECK(timers[0].left.count() == Approx(0.75));
    CHECK(timers[1].trigger == "after 2s");
    CHECK(timers[1].left.count() == Approx(1.75));
    CHECK_FALSE(timers[1].paused);

    engine.pause_scope("bench");
    run(engine, 1);
    timers = engine.timers();
    REQUIRE(timers.size() == 2);
    CHECK(timers[0].left.count() == Approx(0.75));
    CHECK(timers[1].left.count() == Approx(1.75));
    CHECK(timers[1].paused);

    engine.set_project(engine.project()); // the timers continue
    run(engine, 0.25);
    timers = engine.timers();
    REQUIRE(timers.size() == 2);
    CHECK(timers[0].left.count() == Approx(0.5));
    CHECK(timers[1].left.count() == Approx(1.75));
    CHECK(timers[1].paused);

    engine.resume_scope("bench");
    run(engine, 1.5);
    timers = engine.timers();
    REQUIRE(timers.size() == 2);
    CHECK(timers[1].left.count() == Approx(0.25));
    CHECK_FALSE(timers[1].paused);
    run(engine, 0.5);
    CHECK(engine.timers().size() == 1); // `after` has fired

    engine.leave_scope("bench");
    run(engine, 0.25);
    engine.enter_scope("bench");
    run(engine, 0.25);
    CHECK(engine.timers().size() == 2);
    engine.leave_scope("bench");
    run(engine, 0.25);
    CHECK(engine.timers().size() == 1);
    engine.wind_down();
    run(engine, 0.25);
    CHECK(engine.timers().empty());
}
