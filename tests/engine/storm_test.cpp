// Everything at once, for a long time, and what remains.
#include "support/project_folder.h"
#include "support/sanitized.h"
#include "support/storm.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <cstdlib>
#include <limits>
#include <malloc.h>

using namespace support;

namespace {

/// Returns the bytes of memory in use. A sanitizer has its own allocator, and reports leaks itself.
double in_use() {
    const struct mallinfo2 now = mallinfo2();
    return static_cast<double>(now.uordblks) + static_cast<double>(now.hblkhd);
}

} // namespace

TEST_CASE("A storm from eight threads, with a renderer, a reader, streams and changes", "[threads]") {
    const StormProject project;
    kiai::Engine engine(project.first(), {.seed = 3, .voices = 64, .reports = 16384, .record_levels = true});
    std::uint64_t played = 0, ended = 0, lost = 0;
    bool bounded = true;
    engine.set_findings({});
    engine.set_log([&](const kiai::Decision& decision) {
        played += decision.outcome == kiai::Outcome::played ? 1 : 0;
        ended += decision.outcome == kiai::Outcome::ended ? 1 : 0;
        lost += decision.outcome == kiai::Outcome::ring_full ? decision.count : 0;
    });
    {
        const Storm storm(engine, project, 8, 4000);
        std::vector<float> block(2 * 128);
        while (!storm.over()) {
            engine.render(block);
            for (const float sample : block) bounded = bounded && std::abs(sample) <= 1;
        }
        CHECK(storm.changes() > 0);
    }
    engine.resume_scope("bench");
    engine.wind_down();
    for (int i = 0; i < 2000 && engine.sounding() + engine.waiting() > 0; ++i) {
        render(engine, 480);
        engine.poll();
    }
    engine.poll();
    CHECK(bounded);
    CHECK(played > 1000); // it was a storm
    CHECK(ended > 1000);
    CHECK(lost == 0); // neither a command nor the last of them
    CHECK(engine.sounding() == 0);
    CHECK(engine.waiting() == 0);
}

TEST_CASE("The project is changed a thousand times under load: what is unchanged continues, memory stays", "[change]") {
    const StormProject project;
    kiai::Engine engine(project.first(), {.seed = 3, .voices = 64, .reports = 16384});
    engine.set_findings({});
    std::uint64_t ended = 0, changed = 0;
    engine.set_log([&](const kiai::Decision& decision) {
        ended += decision.outcome == kiai::Outcome::ended && decision.sound == "hum" ? 1 : 0;
        changed += decision.outcome == kiai::Outcome::changed ? 1 : 0;
    });
    const kiai::Play hum = engine.play("hum"), far = engine.play("far");
    const auto change = [&](int times) {
        for (int i = 0; i < times; ++i) {
            engine.set_project(i % 2 == 0 ? project.second() : project.first());
            engine.contact("x", "y", {.strength = 0.7f});
            engine.notice("more");
            render(engine, 256, 64);
            engine.poll();
        }
    };
    change(200); // until everything has its size
    const double before = in_use();
    change(800);
    CHECK(in_use() - before < 2e6);
    CHECK(changed == 1000);
    CHECK(hum.playing());
    CHECK(far.playing());
    CHECK(ended == 0);
    CHECK(hum.elapsed().count() * 48000 == Approx(1000 * 256).margin(256));
}

TEST_CASE("Hours of everything at random: levels bounded, nothing left at the end, timers exact", "[soak]") {
    const StormProject project;
    kiai::Engine engine(project.first(),
                        {.seed = 11, .voices = 64, .synchronous_streams = true, .record_levels = true});
    engine.set_findings({});
    std::vector<kiai::Frames> ticks;
    std::uint64_t played = 0, ended = 0, lost = 0;
    engine.set_log([&](const kiai::Decision& decision) {
        played += decision.outcome == kiai::Outcome::played ? 1 : 0;
        ended += decision.outcome == kiai::Outcome::ended ? 1 : 0;
        lost += decision.outcome == kiai::Outcome::log_full || decision.outcome == kiai::Outcome::ring_full ? 1 : 0;
        if (decision.outcome == kiai::Outcome::played && decision.trigger == kiai::ReportKind::every)
            ticks.push_back(decision.frame);
    });
    const char* const long_run = std::getenv("KIAI_SOAK_HOURS"); // scripts/soak sets it
    const double hours = long_run ? std::atof(long_run) : sanitized ? 0.1 : 1;
    std::vector<kiai::Play> plays;
    std::vector<kiai::PlayLevel> levels(4096);
    std::uint64_t chance = 88172645463325252u;
    float most = 0;
    const double at_begin = in_use();
    const auto end = static_cast<kiai::Frames>(hours * 3600 * 48000);
    for (int i = 0; engine.now() < end; ++i) {
        chance ^= chance << 13, chance ^= chance >> 7, chance ^= chance << 17;
        do_something(engine, chance, plays);
        if (i % 1000 == 999) engine.set_project(i / 1000 % 2 == 0 ? project.second() : project.first());
        const auto block = render(engine, 512 + static_cast<kiai::Frames>(chance % 4096), 512);
        for (const float sample : block) most = std::max(most, std::abs(sample));
        engine.poll();
        engine.read_levels(levels);
    }
    CHECK(most <= 1);
    CHECK(lost == 0);
    CHECK(played > 1000);
    engine.resume_scope("bench");
    engine.resume("knock");
    engine.wind_down();
    for (int i = 0; i < 2000 && engine.sounding() + engine.waiting() > 0; ++i) {
        render(engine, 480);
        engine.poll();
    }
    engine.poll();
    CHECK(engine.sounding() == 0);
    CHECK(engine.waiting() == 0);
    // A play keeps the old project alive; now no play of it remains.
    engine.set_project(project.first());
    render(engine, 64);
    engine.poll();
    CHECK(in_use() - at_begin < 8e6);
    CHECK(played == ended);
    // Within one visit to the drawer, ticks are whole numbers of periods apart, to the frame; from one visit to the
    // next the distance is arbitrary.
    std::size_t exact = 0, early = 0;
    for (std::size_t i = 1; i < ticks.size(); ++i) {
        exact += (ticks[i] - ticks[i - 1]) % 2400 == 0 ? 1 : 0;
        early += ticks[i] - ticks[i - 1] < 2400 ? 1 : 0;
    }
    CHECK(ticks.size() > 100);
    CHECK(early == 0);
    CHECK(exact > ticks.size() * 9 / 10);
}

TEST_CASE("Absurd numbers in every call leave the engine as it is, with a record", "[fault]") {
    const StormProject project;
    constexpr float nan = std::numeric_limits<float>::quiet_NaN(), far = std::numeric_limits<float>::infinity(),
                    huge = std::numeric_limits<float>::max();
    for (const float bad : {nan, far, -far, huge, -huge, -1.0f}) {
        kiai::Engine engine(project.first(), {.seed = 1, .reports = 16384});
        engine.set_findings({});
        int told = 0;
        bool finite = true;
        engine.set_log([&](const kiai::Decision& decision) {
            told += decision.outcome == kiai::Outcome::bad_number || decision.outcome == kiai::Outcome::out_of_range
                        ? 1
                        : 0;
        });
        const kiai::Seconds time(bad);
        kiai::Play play =
            engine.play("hum", {.gain = bad, .pitch = bad, .pan = bad, .strength = bad, .place = bad, .delay = time});
        kiai::Play other = engine.play("hum");
        other.set_gain(bad);
        other.set("speed", bad);
        engine.press({bad, bad}, bad > 1e9f ? 1000000000u : ~0u);
        engine.pointer({bad, 1});
        engine.contact("x", "y", {.strength = bad, .place = bad, .pair = 1});
        engine.body(1, "x", {bad, bad}, bad);
        engine.body_box(2, "y", {1, 1}, {bad, bad});
        engine.notice("more", {{"speed", bad}});
        engine.playhead("wheel", bad);
        engine.playhead("wheel", time);
        engine.set_dial("fill", bad);
        engine.move_zone("lid", {bad, bad}, bad);
        engine.set_bus_gain("low", bad, time);
        for (int i = 0; i < 20; ++i)
            for (const float sample : render(engine, 480)) finite = finite && std::abs(sample) <= 1;
        other.stop(time);
        engine.wind_down(time);
        for (int i = 0; i < 400 && engine.sounding() > 0; ++i)
            for (const float sample : render(engine, 480)) finite = finite && std::abs(sample) <= 1;
        engine.poll();
        INFO(bad);
        CHECK(finite);
        CHECK(told >= 5);
    }
}

TEST_CASE("Engines come and go ten thousand times, and their handles outlive them", "[fault]") {
    const kiai::Project project = project_of(Signal(100, 0.1f));
    std::vector<kiai::Play> plays;
    double after_a_while = 0;
    for (int i = 0; i < 10000; ++i) {
        kiai::Engine engine(project, {.seed = 1, .voices = 4, .reports = 16, .streams = 0});
        engine.set_log({});
        if (i % 100 == 0) plays.push_back(engine.play("tone"));
        render(engine, 16);
        if (i == 2000) after_a_while = in_use();
    }
    CHECK(in_use() - after_a_while < 4e6);
    for (kiai::Play& play : plays) {
        CHECK_FALSE(play.playing());
        play.stop();
        play.set_gain(-3);
        play.set("speed", 1);
        play.pause();
        play.resume();
        play.on_ended(nullptr);
        play.on_ended([](kiai::EndReason) { FAIL("it never ended"); });
        CHECK(play.state() == kiai::PlayState::ended);
    }
}

TEST_CASE("Two engines with two projects know nothing of each other", "[fault]") {
    kiai::Engine one(project_of(Signal(4800, 0.25f), "[sound.s]\ntakes = [\"tone\"]\n"), {.seed = 1});
    kiai::Engine two(project_of(Signal(4800, 0.5f), "[sound.s]\ntakes = [\"tone\"]\n[sound.t]\ntakes = [\"tone\"]\n"),
                     {.seed = 1});
    int told = 0;
    one.set_log(
        [&](const kiai::Decision& decision) { told += decision.outcome == kiai::Outcome::unknown_name ? 1 : 0; });
    two.set_log({});
    one.play("s");
    one.play("t");
    two.play("s");
    const auto first = render(one, 2400), second = render(two, 2400);
    one.poll();
    CHECK(told == 1);
    CHECK(first[4000] == 0.25f);
    CHECK(second[4000] == 0.5f);
}
