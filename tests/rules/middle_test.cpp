// Recordings that start in the middle of a run, projects that change during calls, and slow readers.
#include "support/bench.h"
#include "support/files_in_memory.h"

#include <kiai/trace.h>
#include <kiai/workshop/rehearse.h>
#include <kiai/workshop/why.h>

#include <catch2/catch.hpp>

#include <atomic>
#include <sstream>
#include <thread>

using namespace support;
using kiai::Outcome;

namespace {

const std::string text =
    "[clip]\nt-1 = \"a.wav\"\nt-2 = \"a.wav\"\nt-3 = \"a.wav\"\n[dial.fill]\n[scope.s]\n[bus.b]\n[zone.z]\ncircle = { "
    "x = "
    "0, y = 0, r = 5 }\nscope = \"s\"\n[sound.many]\ntakes = { series = \"t\" }\nbus = \"b\"\nvary = { pitch = 2 "
    "}\n[sound.hum]\ntakes = [\"t-1\"]\nloop = true\n" +
    binding("press = \"z\"", "play = \"many\"") + binding("key-down = \"KeyA\"", "hold = \"hum\"") +
    binding("notice = \"n\"", "play = \"many\"", "scope = \"s\"\nwhen = \"fill > 0.5\"") +
    binding("contact = [\"a\", \"b\"]", "hold = \"hum\"") +
    binding("notice = \"third\"", "play = \"many\"", "every = 3");

std::string words(const std::vector<kiai::Decision>& decisions, kiai::Frames from) {
    std::string all;
    for (const kiai::Decision& d : decisions)
        if (d.outcome == Outcome::played || d.outcome == Outcome::not_met || d.outcome == Outcome::no_zone ||
            d.outcome == Outcome::scope_off) {
            all += std::to_string(d.frame - from) + ' ' + to_string(d.outcome) + ' ' + d.sound;
            for (const kiai::LayerTake& layer : d.layers)
                all += ' ' + layer.clip + ' ' + std::to_string(static_cast<int>(layer.pitch * 1000));
            all += '\n';
        }
    return all;
}

} // namespace

TEST_CASE("A recording that starts in the middle rehearses to the same decisions", "[recording]") {
    const ProjectFolder folder(text);
    folder.write_wav("a.wav", Signal(480, 0.1f));
    const kiai::Project project = folder.load();
    kiai::Engine engine(project, {.seed = 5, .reports = 16384});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& d) { log.push_back(d); });
    const auto step = [&](kiai::Frames frames = 4800) {
        static_cast<void>(render(engine, frames));
        engine.poll();
    };
    engine.enter_scope("s");
    engine.set_dial("fill", 0.9f);
    engine.move_zone("z", {100, 100});
    engine.set_bus_gain("b", -6);
    for (int i = 0; i < 7; ++i) engine.play("many"), step(960);
    for (int i = 0; i < 4; ++i) engine.notice("third"), step(960);
    engine.key_down("KeyA");
    engine.contact("a", "b", {.pair = 77});
    step();
    log.clear();
    const kiai::Frames from = engine.now();
    engine.start_recording();
    engine.click({100, 100});
    engine.notice("n");
    step();
    engine.key_up("KeyA");
    for (int i = 0; i < 4; ++i) engine.notice("third"), engine.play("many"), step(960);
    engine.contact_end(77);
    step();
    engine.wind_down();
    step(24000);
    const kiai::Trace recorded = engine.stop_recording();
    const std::string live = words(log, from);
    REQUIRE(live.find("played many") != std::string::npos);

    REQUIRE(kiai::save_trace(folder.path() / "t.jsonl", recorded).empty());
    const kiai::LoadedTrace read = kiai::load_trace(folder.path() / "t.jsonl");
    for (const kiai::Finding& finding : read.findings) FAIL(to_string(finding));
    const kiai::Rehearsal rehearsal = kiai::rehearse(project, read.trace);
    std::vector<kiai::Decision> again = rehearsal.decisions;
    std::erase_if(again, [](const kiai::Decision& d) { // what is held begins again with the recording
        return d.frame == 0 && (d.trigger == kiai::ReportKind::key_down || d.trigger == kiai::ReportKind::contact);
    });
    CHECK(words(again, 0) == live);
    CHECK(rehearsal.endless.empty()); // the wind-down was recorded
}

TEST_CASE("While a project is swapped in, no call of the app waits for it", "[change]") {
    // The swap is blocked in the middle: it reads the loop point of a streamed clip, and the disk is blocked.
    const ProjectFolder folder(
        "[clip]\nlong = { file = \"long.wav\", stream = true }\n[sound.s]\ntakes = [\"long\"]\nloop = "
        "{ crossfade = \"100 ms\" }\n");
    folder.write_wav("long.wav", Signal(48000 * 3, 0.1f));
    const auto gate = std::make_shared<Gate>();
    const auto open =
        files_in_memory({{"kiai.toml", folder.read("kiai.toml")}, {"long.wav", folder.read("long.wav")}}, gate);
    const kiai::Project next = kiai::load_project("in-memory", {.open = open}).project;
    kiai::Engine engine(project_of(Signal(480, 0.1f), "[bus.b]\n"), {.seed = 1});
    engine.set_log([](const kiai::Decision&) {});
    gate->hold();
    std::atomic<bool> swapped{false};
    std::thread swap([&] {
        engine.set_project(next);
        swapped = true;
    });
    gate->wait_for_one();
    // All of these return while the swap is blocked; a call that waited would hang the test.
    engine.set_bus_gain("b", -6);
    engine.mute_bus("b");
    CHECK(engine.bus_gain("b") == -6);
    kiai::Play play = engine.play("tone");
    bool ended = false;
    play.on_ended([&](kiai::EndReason) { ended = true; });
    play.stop();
    static_cast<void>(render(engine, 2400));
    engine.poll();
    CHECK(ended);
    CHECK_FALSE(swapped);
    gate->let_go();
    swap.join();
    static_cast<void>(render(engine, 64));
    engine.poll();
    CHECK(engine.project().name() == next.name());
}

TEST_CASE("Why a play is silent: buses that were muted and unmuted, raised, or have a name alike", "[why]") {
    const std::string quiet =
        "[bus.music]\n[bus.music-2]\n[sound.s]\ntakes = [\"tone\"]\nbus = \"music\"\ngain = -90\n" +
        binding("notice = \"other\"", "mute = { bus = \"music-2\" }");
    const auto broken = [&](const auto& work) {
        Bench bench(quiet);
        work(bench.engine);
        bench.everything(4800);
        kiai::Play play = bench.engine.play("s");
        bench.everything(9600);
        const kiai::Diagnosis why = kiai::why_silent(bench.engine, "s");
        return why.broken() ? why.broken()->detail : std::string("heard");
    };
    const std::string own = "sound \"s\" has a gain of -90 dB";
    CHECK(broken([](kiai::Engine&) {}).find(own) != std::string::npos);
    CHECK(broken([](kiai::Engine& engine) { engine.mute_bus("music"), engine.mute_bus("music", false); }).find(own) !=
          std::string::npos);
    CHECK(broken([](kiai::Engine& engine) { engine.set_bus_gain("music", 6); }).find(own) != std::string::npos);
    CHECK(broken([](kiai::Engine& engine) { engine.notice("other"); }).find(own) != std::string::npos);
    CHECK(broken([](kiai::Engine& engine) {
              engine.mute_bus("music");
          }).find("bus \"music\" was lowered by bus-mute") != std::string::npos);
}
