// Rehearsal as proof: the same run again, and the comparison of two runs.
#include "support/project_folder.h"
#include "support/run_tool.h"
#include "support/text.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include <algorithm>

using namespace support;

namespace {

/// A copy of the demo with a replaced text.
struct Copy : Folder {
    Copy() { std::filesystem::copy(demo(), path() / "bench", std::filesystem::copy_options::recursive); }
    void replace(const std::string& before, const std::string& after) const {
        std::string text = read("bench/kiai.toml");
        REQUIRE(text.find(before) != std::string::npos);
        write("bench/kiai.toml", text.replace(text.find(before), before.size(), after));
    }
    std::string tool(const std::string& arguments) const { return kiai_tool(arguments, path()).out; }
};

const std::string half_minute = " '" + (demo() / "run.jsonl").string() + "'", project = "'" + demo().string() + "'";

} // namespace

TEST_CASE("What an engine rendered offline is rehearsed bit for bit from its recording", "[rehearse]") {
    const kiai::Project bench = kiai::load_project(demo()).project;
    for (const bool plain : {false, true}) {
        kiai::Engine engine(bench, {.seed = 5, .synchronous_streams = true, .portable_kernels = plain});
        engine.set_log({});
        engine.start_recording();
        std::vector<float> live;
        const auto pass = [&](kiai::Frames frames) {
            const auto more = render(engine, frames, 333);
            live.insert(live.end(), more.begin(), more.end());
            engine.poll();
        };
        for (int i = 0; i < 40; ++i) {
            engine.contact("marble", i % 3 == 0 ? "oak" : "glass",
                           {.strength = 0.2f + 0.02f * static_cast<float>(i), .place = 0.5f});
            if (i == 7) engine.press({118, 82});
            if (i == 9) engine.set_dial("fill", 0.9f);
            if (i == 30) engine.notice("run-complete");
            pass(1000 + 17 * i);
        }
        const kiai::Trace trace = engine.stop_recording();
        for (const int block : {64, 512, 4096}) {
            const auto again = kiai::rehearse(bench, trace, {.seed = 5, .block = block, .portable_kernels = plain});
            const std::size_t latency = 2 * static_cast<std::size_t>(engine.latency());
            const std::size_t count = std::min(again.samples.size(), live.size() - latency);
            REQUIRE(count > 40 * 1000 * 2);
            CHECK(std::equal(again.samples.begin(), again.samples.begin() + static_cast<std::ptrdiff_t>(count),
                             live.begin() + static_cast<std::ptrdiff_t>(latency)));
        }
    }
}

TEST_CASE("A run against its own log is alike in everything, with plain kernels too", "[rehearse]") {
    const kiai::Project bench = kiai::load_project(demo()).project;
    const kiai::Trace trace = kiai::load_trace(demo() / "run.jsonl").trace;
    const auto now = kiai::rehearse(bench, trace);
    const auto plain = kiai::rehearse(bench, trace, {.block = 77, .portable_kernels = true});
    const auto found = kiai::differences(plain, now);
    CHECK(found.all.empty());
    CHECK(found.alike == now.decisions.size());
    const Copy copy;
    CHECK(kiai_tool("rehearse " + project + half_minute + " --log log.jsonl", copy.path()).status == 0);
    const Ran against = kiai_tool("rehearse " + project + half_minute + " --baseline log.jsonl --strict", copy.path());
    CHECK(against.status == 0);
    CHECK(has(against.out, "compared with log.jsonl: " + std::to_string(found.alike) +
                               " decisions equal, 0 changed, 0 missing, 0 new\n"));
}

TEST_CASE("What a change of the project changed: its entries, and the decisions that differ", "[rehearse]") {
    const Copy copy;
    copy.replace("takes = { series = \"brush\" }\nvary = { pitch = 1, gain = 1.5 }",
                 "takes = { series = \"brush\" }\nvary = { pitch = 2, gain = 1.5 }");
    copy.replace("trigger = { key-down = \"KeyT\" }", "trigger = { key-down = \"KeyU\" }");
    copy.replace("[motion.paddle]", "[dial.tilt]\n[motion.paddle]");
    const std::string command = "rehearse bench" + half_minute + " --baseline " + project;
    const Ran ran = kiai_tool(command + " --picture both.png", copy.path());
    INFO(ran.out << ran.err);
    CHECK(ran.status == 0);
    CHECK(has(ran.out, "sound \"brush\": vary\n"));
    CHECK(has(ran.out, "binding key-down KeyT: is gone\n"));
    CHECK(has(ran.out, "binding key-down KeyU: is new\n"));
    CHECK(has(ran.out, "dial \"tilt\": is new\n"));
    CHECK_FALSE(has(ran.out, "\"oak\""));
    CHECK(has(ran.out, "key-down KeyT: played groan"));
    CHECK(has(ran.out, "[pitch]\n"));
    CHECK(copy.read("both.png").substr(1, 3) == "PNG");
    CHECK(kiai_tool(command + " --strict", copy.path()).status == 1);
    const auto json = nlohmann::json::parse(copy.tool(command + " --json"));
    std::set<std::string> kinds, sounds;
    for (const auto& one : json["against"]["differences"]) {
        kinds.insert(one["kind"].get<std::string>());
        if (one["kind"] == "changed") sounds.insert(one["now"]["text"].get<std::string>().substr(0, 2));
    }
    CHECK(kinds == std::set<std::string>{"changed", "gone", "new"});
}

TEST_CASE("Another file under a clip's name is reported, an unreadable other is an error", "[rehearse]") {
    const Copy copy;
    copy.write_wav("bench/clips/tilt.wav", sine(300, 0.2, 9600));
    CHECK(
        has(copy.tool("rehearse bench" + half_minute + " --baseline " + project), "clip \"tilt\": its file changed\n"));
    CHECK(kiai_tool("rehearse " + project + half_minute + " --baseline nowhere.jsonl", copy.path()).status == 1);
}
