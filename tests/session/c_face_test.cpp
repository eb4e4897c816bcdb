// The C face sounds the same as C++, and no wrong call of a C program ends it.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/kiai.h>
#include <kiai_c.h>

#include <catch2/catch.hpp>

#include <algorithm>
#include <cstring>
#include <limits>
#include <memory>
#include <random>

using namespace support;

namespace {

using Held = std::unique_ptr<kiai_engine, decltype(&kiai_close)>;

Held demo_engine() {
    Held held(kiai_open_silent(demo().string().c_str(), 48000, 7), &kiai_close);
    kiai_set_findings(held.get(), nullptr, nullptr);
    return held;
}

std::vector<float> rendered(kiai_engine* engine, int frames) {
    std::vector<float> out(2 * static_cast<std::size_t>(frames));
    REQUIRE(kiai_render(engine, out.data(), frames) == KIAI_OK);
    return out;
}

} // namespace

TEST_CASE("What C reports sounds as from C++", "[c]") {
    const Held held = demo_engine();
    kiai_engine* c = held.get();
    REQUIRE(c);
    CHECK(kiai_findings(c) == static_cast<int>(kiai::load_project(demo()).findings.size()));
    kiai::Engine engine(kiai::load_project(demo()).project, {.seed = 7});
    engine.set_log({});
    engine.set_findings({});
    REQUIRE(kiai_set_log(c, nullptr, nullptr) == KIAI_OK);
    std::vector<float> from_c, from_engine;
    kiai_play_id roll = 0;
    kiai::Play rolls;
    for (int i = 0; i < 60; ++i) {
        const float strength = 0.1f + 0.015f * static_cast<float>(i);
        CHECK(kiai_contact(c, "marble", "glass", strength, 0.3f, 0) == KIAI_OK);
        engine.contact("marble", "glass", {.strength = strength, .place = 0.3f});
        if (i == 5) {
            kiai_click(c, 118, 82, 0), engine.click({118, 82});
            kiai_enter_scope(c, "bench"), engine.enter_scope("bench");
            kiai_set_dial(c, "fill", 0.9f), engine.set_dial("fill", 0.9f);
        }
        if (i == 10) {
            roll = kiai_play(c, "roll", "bench"), rolls = engine.play("roll", {}, "bench");
            kiai_play_set(c, roll, "speed", 2), rolls.set("speed", 2);
            kiai_play_set_gain(c, roll, -3, 0.1), rolls.set_gain(-3, kiai::Seconds(0.1));
            kiai_play_set_pan(c, roll, 0.5f, 0.1), rolls.set_pan(0.5f, kiai::Seconds(0.1));
        }
        if (i == 20) {
            const char* names[] = {"marbles"};
            const float values[] = {12};
            kiai_notice(c, "tray-emptied", names, values, 1), engine.notice("tray-emptied", {{"marbles", 12}});
            kiai_key_tap(c, "Digit3"), engine.key_tap("Digit3");
            kiai_set_bus_gain(c, "pieces", -6, 0.2), engine.set_bus_gain("pieces", -6, kiai::Seconds(0.2));
        }
        if (i == 30) kiai_play_set_pitch(c, roll, 3, 0.5), rolls.set_pitch(3, kiai::Seconds(0.5));
        if (i == 40) kiai_play_stop(c, roll, 0.3), rolls.stop(kiai::Seconds(0.3));
        if (i == 50)
            kiai_stop(c, KIAI_EVERYTHING, nullptr, 0.1), engine.stop(kiai::Target::everything(), kiai::Seconds(0.1));
        const auto part = rendered(c, 1000), other = render(engine, 1000);
        from_c.insert(from_c.end(), part.begin(), part.end());
        from_engine.insert(from_engine.end(), other.begin(), other.end());
        kiai_poll(c), engine.poll();
        if (i == 15) {
            CHECK(kiai_play_state_of(c, roll) == KIAI_PLAYING);
            CHECK(kiai_play_number(c, roll) == rolls.number());
            CHECK(kiai_play_position(c, roll) == rolls.position().count());
            CHECK(kiai_sounding(c) == engine.sounding());
            CHECK(kiai_scope(c, "bench") == KIAI_SCOPE_IS_ON);
            float fill = 0;
            CHECK(kiai_dial(c, "fill", &fill) == KIAI_OK);
            CHECK(fill == 0.9f);
        }
    }
    CHECK(peak(side(from_c, 0)) > 0.05);
    CHECK(from_c == from_engine);
    CHECK(kiai_play_state_of(c, roll) == KIAI_ENDED);
    CHECK(kiai_play_reason(c, roll) == KIAI_REASON_STOPPED);
    CHECK(kiai_now(c) == engine.now());
    CHECK(kiai_latency(c) == engine.latency());
    CHECK(kiai_sample_rate(c) == 48000);
    CHECK(std::string(kiai_version()) == kiai::version);
    CHECK(kiai_c_version() == KIAI_C_VERSION);
}

TEST_CASE("Decisions reach C as lines, through a sink or one by one", "[c]") {
    const Held held = demo_engine();
    kiai_engine* c = held.get();
    std::vector<std::string> lines;
    const auto sink = [](void* user, const char* line) {
        static_cast<std::vector<std::string>*>(user)->push_back(line);
    };
    kiai_set_log(c, sink, &lines);
    kiai_play(c, "glass", nullptr);
    rendered(c, 100);
    kiai_poll(c);
    const std::size_t before = lines.size();
    REQUIRE(before > 0);
    CHECK(lines.back().find("glass") != std::string::npos);

    CHECK(kiai_next_decision(c, nullptr, 0) == 0); // now they are kept
    kiai_play(c, "no-such-sound", nullptr);
    for (int i = 0; i < 2000; ++i) kiai_play(c, "glass", nullptr), rendered(c, 64), kiai_poll(c);
    CHECK(lines.size() == before);
    char text[4096];
    int taken = 0;
    while (kiai_next_decision(c, text, sizeof text) > 0) ++taken;
    CHECK(taken == 1024);

    kiai_play(c, "no-such-sound", nullptr);
    rendered(c, 64), kiai_poll(c);
    char few[8];
    const std::size_t whole = kiai_next_decision(c, few, sizeof few);
    CHECK(whole > 20);
    CHECK(std::strlen(few) == 7);
    CHECK(kiai_next_decision(c, few, sizeof few) == 0);
}

TEST_CASE("A project that is missing is a finding in C, and another may be taken", "[c]") {
    const Folder folder;
    const Held held(kiai_open_silent((folder.path() / "none").string().c_str(), 44100, 1), &kiai_close);
    REQUIRE(held);
    char line[512];
    REQUIRE(kiai_findings(held.get()) == 1);
    const std::size_t length = kiai_finding(held.get(), 0, line, sizeof line);
    CHECK(length == std::strlen(line));
    CHECK(std::string(line).find("missing folder") != std::string::npos);
    CHECK(kiai_finding(held.get(), 1, line, sizeof line) == 0);
    CHECK(kiai_reload(held.get(), (folder.path() / "none").string().c_str()) == KIAI_HAS_ERRORS);
    CHECK(kiai_reload(held.get(), demo().string().c_str()) == KIAI_OK);
    kiai_contact(held.get(), "marble", "glass", 1, 0, 0);
    CHECK(peak(rendered(held.get(), 4000)) > 0.05);
    CHECK(kiai_sample_rate(held.get()) == 44100);
}

TEST_CASE("A null engine, a null text and numbers that mean nothing are answers, not crashes", "[c]") {
    CHECK(kiai_open(nullptr) == nullptr);
    CHECK(kiai_open_silent(nullptr, 48000, 0) == nullptr);
    kiai_close(nullptr);
    CHECK(kiai_press(nullptr, 0, 0, 0) == KIAI_BAD_ARGUMENT);
    CHECK(kiai_play(nullptr, "oak", nullptr) == 0);
    CHECK(kiai_render(nullptr, nullptr, 0) == KIAI_BAD_ARGUMENT);
    CHECK(kiai_play_state_of(nullptr, 1) == KIAI_ENDED);
    CHECK(kiai_findings(nullptr) == 0);
    CHECK(kiai_next_decision(nullptr, nullptr, 0) == 0);
    const Held held = demo_engine();
    kiai_engine* c = held.get();
    kiai_set_log(c, nullptr, nullptr);
    CHECK(kiai_key_down(c, nullptr) == KIAI_BAD_ARGUMENT);
    CHECK(kiai_contact(c, "marble", nullptr, 1, 0, 0) == KIAI_BAD_ARGUMENT);
    CHECK(kiai_notice(c, "run-complete", nullptr, nullptr, 1) == KIAI_BAD_ARGUMENT);
    CHECK(kiai_notice(c, "run-complete", nullptr, nullptr, -1) == KIAI_BAD_ARGUMENT);
    CHECK(kiai_notice(c, "run-complete", nullptr, nullptr, 0) == KIAI_OK);
    CHECK(kiai_stop(c, 0, "oak", 0) == KIAI_BAD_ARGUMENT);
    CHECK(kiai_stop(c, KIAI_BUS, nullptr, 0) == KIAI_BAD_ARGUMENT);
    CHECK(kiai_play(c, nullptr, nullptr) == 0);
    CHECK(kiai_dial(c, "fill", nullptr) == KIAI_BAD_ARGUMENT);
    float value = 5;
    CHECK(kiai_dial(c, "fil", &value) == KIAI_UNKNOWN);
    CHECK(value == 5);
    CHECK(kiai_bus_level(c, "main", nullptr, nullptr, nullptr) == KIAI_OK);
    float out[64];
    CHECK(kiai_render(c, out, -1) == KIAI_BAD_ARGUMENT);
    for (int status = -1; status < 9; ++status) CHECK(std::strlen(kiai_status_text(status)) > 3);
    // Plays that never existed.
    std::mt19937_64 random(3);
    const float strange[] = {std::numeric_limits<float>::quiet_NaN(), std::numeric_limits<float>::infinity(), -1e30f,
                             2};
    for (int i = 0; i < 2000; ++i) {
        const kiai_play_id play = i % 3 == 0 ? random() : (random() % 4) << 32 | random() % 70000;
        const float number = strange[random() % 4];
        kiai_play_stop(c, play, number), kiai_play_pause(c, play), kiai_play_resume(c, play);
        kiai_play_seek(c, play, number), kiai_play_set_gain(c, play, number, number);
        kiai_play_set_pitch(c, play, number, 0.1), kiai_play_set_pan(c, play, 0, number);
        kiai_play_set(c, play, "speed", number);
        CHECK(kiai_play_state_of(c, play) == KIAI_ENDED);
        CHECK(kiai_play_number(c, play) == 0);
        CHECK(kiai_play_position(c, play) == 0);
        if (i % 50 == 0) rendered(c, 64), kiai_poll(c);
    }
}
