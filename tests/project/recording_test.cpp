// Reports of an app, recorded as a trace, written, read, cut, joined, and rehearsed.
#include "support/bench.h"

#include <kiai/workshop/rehearse.h>

#include <catch2/catch.hpp>

#include <sstream>

using namespace support;
using kiai::Outcome;

namespace {

const std::string everything =
    "[dial.fill]\n[scope.s]\n[bus.b]\n[zone.z]\ncircle = { x = 0, y = 0, r = 5 }\nscope = \"s\"\n"
    "[motion.m]\nframes = 10\nmarkers = { top = 5 }\n[sequence.q]\nsteps = [{ play = \"tone\" }, { wait = \"50 ms\" }, "
    "{ "
    "play = \"tone\" }]\n"
    "[sound.hum]\ntakes = [\"tone\"]\nloop = true\nbus = \"b\"\nvary = { pitch = 2 }\nfollow = [{ value = \"speed\", "
    "target = "
    "\"gain\", curve = [[0, -20], [1, 0]] }]\n" +
    binding("press = \"z\"", "hold = \"hum\"") + binding("key-down = \"Space\"", "toggle = \"hum\"") +
    binding("contact = [\"a\", \"b\"]", "play = \"tone\"") + binding("marker = [\"m\", \"top\"]", "play = \"tone\"") +
    binding("watch = \"fill > 0.5\"", "hold = \"hum\"") + binding("notice = \"go\"", "run = \"q\"", "when = \"n > 1\"");

/// Makes every kind of report over `engine`'s time.
void live(kiai::Engine& engine) {
    const auto step = [&] { render(engine, 1777, 100), engine.poll(); };
    engine.enter_scope("s");
    engine.pointer({9, 9});
    engine.press({0, 1});
    step();
    engine.key_down("Space");
    engine.contact("a", "b", {.strength = 0.3f, .place = -0.7f, .pair = 12345678901234567u});
    step();
    engine.contact_end(12345678901234567u);
    engine.release();
    engine.set_dial("fill", 0.6f);
    kiai::Play play = engine.play("hum", {.gain = -3.3f, .delay = kiai::Seconds(0.02)}, "s");
    play.set("speed", 0.77f);
    step();
    play.set_gain(-9);
    engine.playhead("m", 4.0f), engine.playhead("m", 6.5f, 0);
    engine.notice("go", {{"m", 0.1f}, {"n", 2}});
    step();
    engine.body(1, "a", {0, 0}, 2), engine.body_box(2, "b", {1, 1}, {3, 1.5f}), engine.body_gone(1);
    engine.move_zone("z", {100, 100}, 2);
    engine.press({104, 104}, 3);
    engine.set_bus_gain("b", -6, kiai::Seconds(0.1));
    play.pause();
    step();
    engine.mute_bus("b");
    engine.mute_bus("b", false);
    play.resume();
    engine.pause_scope("s"), engine.resume_scope("s");
    step();
    play.stop(kiai::Seconds(0.03));
    engine.run("q"), engine.toggle("hum"), engine.pause("hum"), engine.resume("hum");
    step();
    kiai::Play other = engine.play("hum", {.fade_in = kiai::Seconds(0.05), .start = kiai::Seconds(0.01)});
    other.set_pitch(-4, kiai::Seconds(0.1)), other.set_pan(0.4f), other.set_gain(-3, kiai::Seconds(0.05));
    engine.play("tone", {.length = kiai::Seconds(0.03)});
    engine.play("hum", {.loop = 2, .bus = "b"});
    engine.play("tone", {.layer = 1, .at = engine.now() + 300});
    other.seek(kiai::Seconds(0.015));
    engine.run("q");
    step();
    kiai::Play next = engine.crossfade(other, "hum", kiai::Seconds(0.04), {.gain = -2});
    step();
    engine.crossfade(kiai::Target::bus("b"), "tone", kiai::Seconds(0.02), {.bus = "b"}, "s");
    engine.crossfade("hum", "hum", kiai::Seconds(0.02));
    next.seek(kiai::Seconds(0.01));
    step();
    engine.pause(kiai::Target::bus("b"));
    step();
    engine.resume(kiai::Target::bus("b")), engine.restart("hum"), engine.restart(kiai::Target::scope("s"));
    engine.restart(kiai::Target::sequence("q"));
    step();
    engine.stop(kiai::Target::sequence("q")), engine.stop(kiai::Target::scope("s"), kiai::Seconds(0.05));
    engine.stop(kiai::Target::everything(), kiai::Seconds(0.02)), engine.stop("hum", kiai::Seconds(0.01));
    step();
    engine.input_lost();
    engine.remove_zone("z");
    engine.leave_scope("s");
    engine.set_dial("fill", 0);
    engine.stop("hum");
    for (int i = 0; i < 30; ++i) step();
}

std::string lines_of(const std::vector<kiai::Decision>& decisions) {
    std::string text;
    for (const auto& one : decisions) text += std::to_string(one.frame) + ' ' + describe(one) + '\n';
    return text;
}

} // namespace

TEST_CASE("A recorded run is rehearsed to the same decisions and the same samples", "[recording]") {
    Bench bench(everything, sine(440, 0.3, 4800));
    bench.engine.start_recording();
    std::vector<kiai::Decision> decided;
    bench.engine.set_log([&](const kiai::Decision& decision) { decided.push_back(decision); });
    live(bench.engine);
    std::uint64_t lost = 1;
    const kiai::Trace trace = bench.engine.stop_recording(&lost);
    CHECK(lost == 0);
    CHECK(trace.lines.size() > 30);
    Folder folder;
    REQUIRE(save_trace(folder.path() / "run.jsonl", trace).empty());
    const kiai::LoadedTrace read = kiai::load_trace(folder.path() / "run.jsonl");
    INFO(folder.read("run.jsonl"));
    CHECK(read.findings.empty());
    std::ostringstream again;
    write_trace(again, read.trace);
    CHECK(again.str() == folder.read("run.jsonl"));

    const kiai::Rehearsal rehearsal = kiai::rehearse(bench.engine.project(), read.trace);
    CHECK(lines_of(rehearsal.decisions) == lines_of(decided));
    CHECK(with_outcome(decided, Outcome::played).size() > 8);
    CHECK(check_trace(bench.engine.project(), read.trace, "run.jsonl").empty());
}

TEST_CASE("What is not read while it is recorded is counted", "[recording]") {
    Bench bench("");
    bench.engine.start_recording();
    for (int i = 0; i < 10; ++i) {
        for (int n = 0; n < 1000; ++n) bench.engine.release();
        render(bench.engine, 1);
    }
    std::uint64_t lost = 0;
    CHECK(bench.engine.stop_recording(&lost).lines.size() + lost == 10000);
    CHECK(lost > 0);
    bench.engine.release();
    render(bench.engine, 1);
    bench.engine.start_recording(); // the calls in between are not part of it
    CHECK(bench.engine.stop_recording().lines.empty());
}

TEST_CASE("A cut begins with the state at that moment, a join puts one trace behind the other", "[recording]") {
    Folder folder;
    folder.write("a.jsonl", "{\"trace\": 1, \"rate\": 48000, \"seed\": 3}\n"
                            "{\"at\": 0.1, \"dial\": {\"fill\": 0.3}}\n{\"at\": 0.2, \"dial\": {\"fill\": 0.4}}\n"
                            "{\"at\": 0.3, \"scope-enter\": \"s\"}\n{\"at\": 0.4, \"notice\": \"before\"}\n"
                            "{\"at\": 1.0, \"notice\": \"in\"}\n{\"at\": 2.0, \"notice\": \"after\"}\n");
    const kiai::Trace trace = kiai::load_trace(folder.path() / "a.jsonl").trace;
    const kiai::Trace part = cut(trace, kiai::Seconds(0.5), kiai::Seconds(2));
    REQUIRE(part.lines.size() == 3);
    CHECK(part.seed == 3);
    CHECK(part.lines[0].report.value == 0.4f);
    CHECK(part.lines[0].frame == 0);
    CHECK(part.lines[1].report.kind == kiai::ReportKind::scope_enter);
    CHECK(part.lines[2].report.name == "in");
    CHECK(part.lines[2].frame == 24000);
    kiai::Trace slow = part;
    slow.sample_rate = 24000;
    const kiai::Trace both = join(part, slow, kiai::Seconds(0.25));
    REQUIRE(both.lines.size() == 6);
    CHECK(both.lines[3].frame == 24000 + 12000);
    CHECK(both.lines[5].frame == 24000 + 12000 + 48000);
}

TEST_CASE("A trace from an older project says what no longer fits", "[recording]") {
    Folder folder;
    folder.write("old.jsonl", "{\"at\": 0, \"dial\": {\"fil\": 1}}\n{\"at\": 0, \"key-down\": \"Spaec\"}\n"
                              "{\"at\": 0, \"contact\": [\"b\", \"a\"]}\n{\"at\": 1, \"dial\": {\"fil\": 2}}\n"
                              "{\"at\": 2, \"scope-enter\": \"s\"}\n{\"at\": 2, \"play\": \"home\"}\n");
    const auto findings = check_trace(project_of(Signal(10, 0.1f), everything),
                                      kiai::load_trace(folder.path() / "old.jsonl").trace, "old.jsonl");
    REQUIRE(findings.size() == 3);
    CHECK(findings[0].line == 1);
    CHECK(findings[0].message == "the project has no dial \"fil\"");
    CHECK(findings[0].fix == "the nearest is \"fill\"");
    CHECK(findings[1].fix == "the nearest is \"Space\"");
    CHECK(findings[2].entry == "home");
}
