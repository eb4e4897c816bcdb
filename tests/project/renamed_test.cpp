// Names of older versions: the message gives the new name.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/workshop/workshop.h>

#include <catch2/catch.hpp>

#include <sstream>

using namespace support;

namespace {

const std::string old_project = R"(format = 1
[clip]
tone = "tone.wav"
[sound.hum]
takes = ["tone"]
vary = { pitch = 1, spread = "bell" }
loop = { to = "10 ms", seam = "1 ms" }
follow = [{ value = "strength", moves = "gain", curve = [[0, -6], [1, 0]], between = "smooth" }]
lfo = [{ moves = "pitch", rate = 5, depth = 0.3 }]
[[binding]]
trigger = { apart = ["marble", "oak"] }
action = { play = "hum" }
[[accepted]]
finding = "clip-late"
reason = "as it was recorded"
)";

} // namespace

TEST_CASE("The old name of a key, a value or a finding is an error that gives the new name", "[renamed]") {
    const Folder folder;
    folder.write_wav("tone.wav", Signal(4800, 0.1f));
    folder.write("kiai.toml", old_project);
    const kiai::LoadResult loaded = kiai::load_project(folder.path());
    std::string all;
    for (const kiai::Finding& finding : loaded.findings) all += to_string(finding) + '\n';
    INFO(all);
    for (const auto& [before, now] : std::vector<std::pair<std::string, std::string>>{{"spread", "distribution"},
                                                                                      {"seam", "crossfade"},
                                                                                      {"moves", "target"},
                                                                                      {"between", "interpolation"},
                                                                                      {"apart", "contact-end"}})
        CHECK(all.find("`" + before + "` is now called `" + now + "`") != std::string::npos);
    CHECK(all.find("it is now called \"leading-silence\"") != std::string::npos);
    CHECK(all.find("is not there") == std::string::npos); // nothing is missing that has only its old name
    CHECK(loaded.findings.size() == 7);
    folder.write("kiai.toml",
                 "format = 1\n[clip]\ntone = \"tone.wav\"\n[sound.s]\ntakes = [\"tone\"]\nfollow = [{ value = "
                 "\"strength\", target = \"gain\", curve = [[0, 0], [1, 0]], interpolation = \"straight\" "
                 "}]\n");
    const auto findings = kiai::load_project(folder.path()).findings;
    REQUIRE_FALSE(findings.empty());
    CHECK(findings[0].fix == "it is now called \"linear\"");
}

TEST_CASE("check --fix writes the new names", "[renamed][tool]") {
    const Folder folder;
    folder.write_wav("tone.wav", Signal(4800, 0.1f));
    folder.write("kiai.toml", old_project);
    const Ran fixed = kiai_tool("check --fix " + folder.path().string());
    INFO(fixed.out << fixed.err);
    const std::string text = folder.read("kiai.toml");
    for (const char* now :
         {"distribution = \"bell\"", "crossfade = \"1 ms\"", "target = \"gain\"", "target = \"pitch\"",
          "interpolation = \"smooth\"", "contact-end = [", "finding = \"leading-silence\""}) {
        INFO(now << " in\n" << text);
        CHECK(text.find(now) != std::string::npos);
    }
    CHECK(kiai::load_project(folder.path()).ok());
}

TEST_CASE("Old names in traces and logs are answered with the new ones", "[renamed]") {
    const Folder folder;
    folder.write("run.jsonl", "{\"at\": 0, \"apart\": 7}\n");
    const kiai::LoadedTrace trace = kiai::load_trace(folder.path() / "run.jsonl");
    REQUIRE(trace.findings.size() == 1);
    CHECK(to_string(trace.findings[0]).find("`apart` is now called `contact-end`") != std::string::npos);
    folder.write("log.jsonl", "{\"frame\": 0, \"at\": 0, \"decision\": \"gave-way\"}\n");
    const kiai::LoadedLog log = kiai::load_log(folder.path() / "log.jsonl");
    REQUIRE(log.findings.size() == 1);
    CHECK(to_string(log.findings[0]).find("`gave-way` is now called `stolen`") != std::string::npos);
}

TEST_CASE("An old option of the tool is answered with the new one", "[renamed][tool]") {
    const std::string demo = source_folder() + "/examples/marble-run";
    for (const auto& [call, now] :
         std::vector<std::pair<std::string, std::string>>{{"rehearse " + demo + " --say", "--decisions"},
                                                          {"rehearse --against=log.jsonl", "--baseline"},
                                                          {"hear --beside x", "--compare"},
                                                          {"rehearse --pieces x", "--failures"},
                                                          {"fire --anyway", "--ignore-conditions"},
                                                          {"trace --apart 3", "--interval"},
                                                          {"check --codes", "--list"},
                                                          {"check --keys project", "--schema"},
                                                          {"add --refer x", "--in-place"},
                                                          {"check --mend", "--fix"}}) {
        const Ran ran = kiai_tool(call);
        INFO(call << ": " << ran.err);
        CHECK(ran.status == 2);
        CHECK(ran.err.find("is now called " + now) != std::string::npos);
    }
}
