// The command-line tool, as typed in a shell.
#include "support/project_folder.h"
#include "support/run_tool.h"
#include "support/text.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <sndfile.h>

#include <fstream>
#include <set>
#include <sstream>

using namespace support;
using nlohmann::json;

namespace {

std::string quoted(const std::filesystem::path& path) {
    return "'" + path.string() + "'";
}

std::vector<json> json_lines(const std::string& text) {
    std::vector<json> lines;
    std::istringstream stream(text);
    for (std::string line; std::getline(stream, line);) lines.push_back(json::parse(line));
    return lines;
}

/// Returns width and height of a PNG, from its header.
std::pair<unsigned, unsigned> png_size(const std::string& bytes) {
    REQUIRE(bytes.substr(1, 3) == "PNG");
    const auto number = [&](std::size_t at) {
        unsigned value = 0;
        for (std::size_t i = 0; i < 4; ++i) value = value << 8 | static_cast<unsigned char>(bytes[at + i]);
        return value;
    };
    return {number(16), number(20)};
}

} // namespace

TEST_CASE("Every command has help with an example, and help is no error", "[tool]") {
    CHECK(has(kiai_tool("--help").out, "rehearse"));
    CHECK(has(kiai_tool("--version").out, "."));
    for (const std::string command : {"new", "add", "list", "show", "check", "rename", "remove", "credits", "hear",
                                      "even", "zones", "trace", "rehearse", "why", "fire", "simulate", "demo"}) {
        const Ran help = kiai_tool(command + " --help");
        INFO(command);
        CHECK(help.status == 0);
        CHECK(has(help.out, "\n  kiai " + command));
    }
}

TEST_CASE("Wrong use is status 2, with the reason", "[tool]") {
    for (const std::string arguments :
         {"", "nonsense", "check --nonsense", "rehearse", "hear", "list . nonsense", "hear marble-run oak --times x"}) {
        const Ran wrong = kiai_tool(arguments);
        INFO(arguments << "\n" << wrong.out << wrong.err);
        CHECK(wrong.status == 2);
        CHECK_FALSE((wrong.err + wrong.out).empty());
    }
    CHECK(has(kiai_tool("rename a b --kind layer").err, "clip, sound, zone, bus, dial, scope, motion, sequence"));
    const Ran no_terminal = kiai_tool("hear " + quoted(demo()) + " oak");
    CHECK(no_terminal.status == 2);
    CHECK(has(no_terminal.err, "--out"));
}

TEST_CASE("check: the demo has no findings", "[tool]") {
    const Ran check = kiai_tool("check " + quoted(demo()) + " --strict");
    CHECK(check.status == 0);
    CHECK(check.out == "marble-run: 0 errors, 0 warnings, 0 notes, 1 accepted\n");
    CHECK(check.err.empty());
}

TEST_CASE("check: one line each, with place, reason and fix, status 1 for errors, with --strict for warnings",
          "[tool]") {
    const ProjectFolder folder(
        "name = \"bench\"\n[clip]\noak-1 = \"oak-1.wav\"\noak-3 = \"oak-3.wav\"\n[sound.oak]\ntakes "
        "= { series = \"oak\" }\n"
        "[[binding]]\ntrigger = { notice = \"n\" }\naction = { play = \"oak\" }\n"
        "[credit.\".\"]\nlicence = \"CC0-1.0\"\n");
    folder.write_wav("oak-1.wav", Signal(10, 0.1f));
    folder.write_wav("oak-3.wav", Signal(10, 0.2f));
    const Ran warned = kiai_tool("check", folder.path());
    INFO(warned.out);
    CHECK(warned.status == 0);
    CHECK(has(
        warned.out,
        "kiai.toml:7:9: warning: sound \"oak\": the series has no \"oak-2\" [series-gap]; register the missing file"));
    CHECK(has(warned.out, "bench: 0 errors, 1 warning, 1 note"));
    CHECK_FALSE(has(warned.out, "\x1b")); // no colour where there is no terminal
    CHECK(kiai_tool("check --strict", folder.path()).status == 1);

    folder.toml("[[binding]]\ntrigger = { notice = \"n\" }\naction = { play = \"oak\" }\n");
    std::filesystem::create_directories(folder.path() / "below" / "further");
    const Ran below = kiai_tool("check --json", folder.path() / "below" / "further"); // the nearest project above
    CHECK(below.status == 1);
    const json findings = json::parse(below.out)["findings"];
    REQUIRE(findings.size() == 1);
    CHECK(findings[0]["code"] == "unknown-name");
    CHECK(findings[0]["severity"] == "error");
    CHECK(findings[0]["line"] == 4);
    CHECK(kiai_tool("check nowhere-at-all").status == 2);
    CHECK(has(kiai_tool("check nowhere-at-all").err, "no project at \"nowhere-at-all\""));
}

TEST_CASE("check prints five findings of a kind and counts the others", "[tool]") {
    std::string toml = "[clip]\n";
    for (int i = 1; i <= 9; ++i) toml += "tone-" + std::to_string(i) + " = \"none-" + std::to_string(i) + ".wav\"\n";
    const ProjectFolder folder(toml);
    const Ran few = kiai_tool("check", folder.path());
    INFO(few.out);
    CHECK(has(few.out, "none-5.wav"));
    CHECK_FALSE(has(few.out, "none-6.wav"));
    CHECK(has(few.out, "… and 4 more [file-missing]; --all prints them\n"));
    CHECK(has(few.out, ": 9 errors, "));
    const Ran all = kiai_tool("check --all", folder.path());
    CHECK(has(all.out, "none-9.wav"));
    CHECK_FALSE(has(all.out, "more ["));
    CHECK(json::parse(kiai_tool("check --json", folder.path()).out)["findings"].size() >= 9);
}

TEST_CASE("list: tables for people, named entries for programs", "[tool]") {
    const Ran all = kiai_tool("list " + quoted(demo()));
    CHECK(all.status == 0);
    for (const std::string part :
         {"42 clips", "14 sounds", "24 bindings", "10 zones", "2 notices", "2 buses", "3 dials", "2 scopes", "1 motion",
          "1 sequence", "hopper-open", "press hopper", "run-complete"}) {
        INFO(all.out);
        CHECK(has(all.out, part));
    }
    const std::pair<std::string, std::size_t> kinds[] = {
        {"clips", 42}, {"sounds", 14}, {"bindings", 24}, {"zones", 10},  {"notices", 2},
        {"buses", 2},  {"dials", 3},   {"scopes", 2},    {"motions", 1}, {"sequences", 1}};
    for (const auto& [kind, count] : kinds) {
        const json listed = json::parse(kiai_tool("list " + quoted(demo()) + " " + kind + " --json").out)["entries"];
        INFO(kind);
        REQUIRE(listed.is_array());
        CHECK(listed.size() == count);
        for (const json& entry : listed) CHECK(entry["name"].is_string());
    }
    const json sounds = json::parse(kiai_tool("list " + quoted(demo()) + " sounds --json").out)["entries"];
    for (const json& sound : sounds) {
        const json& details = sound["details"];
        if (sound["name"] == "oak") CHECK((details["full"] == "end-quietest" && details["bus"] == "pieces"));
        if (sound["name"] == "groan:heavy") CHECK(sound["state"] == "variant");
        if (sound["name"] == "groan") CHECK((details["full"] == "refuse" && details["bus"] == "main"));
    }
    const json everything = json::parse(kiai_tool("list --json", demo()).out)["entries"];
    CHECK(everything.size() == 42 + 14 + 24 + 10 + 2 + 2 + 3 + 2 + 1 + 1);
    for (const json& entry : everything) CHECK((entry["name"].is_string() && entry["kind"].is_string()));
    const Ran here = kiai_tool("list zones --json", demo());
    CHECK(json::parse(here.out)["entries"][0]["name"] == "lamp");
}

TEST_CASE("rehearse: the sound, the log and the picture, the same each time", "[tool]") {
    const Folder out;
    const std::string call = "rehearse " + quoted(demo()) + " " + quoted(demo() / "run.jsonl") + " --seed 3";
    const Ran first = kiai_tool(call + " --out a.wav --log a.jsonl --picture a.png", out.path());
    INFO(first.err);
    REQUIRE(first.status == 0);
    REQUIRE(kiai_tool(call + " --out b.wav --log b.jsonl --picture b.png", out.path()).status == 0);
    REQUIRE(kiai_tool("rehearse " + quoted(demo()) + " " + quoted(demo() / "run.jsonl") + " --seed 4 --out c.wav",
                      out.path())
                .status == 0);
    CHECK(out.read("a.wav") == out.read("b.wav"));
    CHECK(out.read("a.jsonl") == out.read("b.jsonl"));
    CHECK(out.read("a.png") == out.read("b.png"));
    CHECK(out.read("a.wav") != out.read("c.wav"));
    CHECK(png_size(out.read("a.png")) == std::pair(1280u, 800u));
    CHECK(has(first.out, "hopper"));

    SF_INFO info{};
    SNDFILE* file = sf_open((out.path() / "a.wav").c_str(), SFM_READ, &info);
    REQUIRE(file != nullptr);
    sf_close(file);
    CHECK(info.channels == 2);
    CHECK((info.format & SF_FORMAT_SUBMASK) == SF_FORMAT_FLOAT);
    CHECK(info.frames > 27 * 48000);

    // The log contains the decision, the takes and the end of each play, in the order of frames.
    std::set<int> open;
    std::int64_t frame = 0;
    int played = 0;
    for (const json& line : json_lines(out.read("a.jsonl"))) {
        if (line.contains("log")) continue; // its head
        CHECK(line["frame"].get<std::int64_t>() >= frame);
        frame = line["frame"];
        const std::string decision = line["decision"];
        if (decision == "played") {
            ++played;
            open.insert(line["play"].get<int>());
            CHECK(line["layers"][0]["clip"].is_string());
            CHECK(line["trigger"].is_string());
        } else if (decision == "ended") {
            CHECK(open.erase(line["play"].get<int>()) == 1);
            if (line["length"] > 0) CHECK(line["level"].get<double>() > -60); // else it was stolen at once
        }
    }
    CHECK(played > 100);
    CHECK(open.empty());
    const json summary = json::parse(kiai_tool(call + " --json").out);
    CHECK(summary["sounds"].size() == 13);
    CHECK(summary["seed"] == 3);
}

TEST_CASE("rehearse: what cannot be read or written is said, with status 1", "[tool]") {
    const Folder out;
    CHECK(kiai_tool("rehearse " + quoted(demo()) + " nowhere.jsonl").status == 1);
    const Ran unwritable = kiai_tool("rehearse " + quoted(demo()) + " " + quoted(demo() / "run.jsonl") +
                                     " --out /nowhere/a.wav --log /nowhere/a.jsonl --picture /nowhere/a.png");
    CHECK(unwritable.status == 3);
    CHECK(has(unwritable.err, "/nowhere/a.wav"));
    CHECK(has(unwritable.err, "/nowhere/a.jsonl"));
    CHECK(has(unwritable.err, "/nowhere/a.png"));
    out.write("bad.jsonl", "{\"at\": 0, \"play\": \"oak\"}\nrubbish\n");
    const Ran partly = kiai_tool("rehearse " + quoted(demo()) + " bad.jsonl --out a.wav", out.path());
    CHECK(partly.status == 1);
    CHECK(has(partly.err, "bad.jsonl:2: error: not valid JSON"));
    CHECK(std::filesystem::exists(out.path() / "a.wav")); // the rest was rehearsed
}

TEST_CASE("hear: each play with what was picked, nine takes in nine plays", "[tool]") {
    const Folder out;
    const Ran heard = kiai_tool(
        "hear " + quoted(demo()) + " oak --times 9 --seed 3 --out oak.wav --picture oak.png --json", out.path());
    INFO(heard.err);
    REQUIRE(heard.status == 0);
    const json plays = json::parse(heard.out)["plays"];
    REQUIRE(plays.size() == 9);
    std::set<std::string> takes;
    for (const json& play : plays) {
        takes.insert(play["layers"][0]["clip"].get<std::string>());
        CHECK(play["level"].get<double>() > -12);
        CHECK(play["length"].get<int>() > 10000);
    }
    CHECK(takes.size() == 9);
    CHECK(png_size(out.read("oak.png")).first == 1280);
    CHECK(png_size(out.read("oak.png")).second == 800); // nine rows of plays
    const std::string first = out.read("oak.wav");
    REQUIRE(kiai_tool("hear " + quoted(demo()) + " oak --times 9 --seed 3 --out oak.wav", out.path()).status == 0);
    CHECK(out.read("oak.wav") == first);

    const Ran clip = kiai_tool("hear " + quoted(demo()) + " hopper-open --out clip.wav", out.path());
    CHECK(clip.status == 0);
    CHECK(has(clip.out, "played hopper-open"));
    const Ran endless = kiai_tool("hear " + quoted(demo()) + " lift --out lift.wav", out.path());
    CHECK(has(endless.out, ": stopped, peak"));
    const Ran unknown = kiai_tool("hear " + quoted(demo()) + " oka --out x.wav", out.path());
    CHECK(unknown.status == 1);
    CHECK(has(unknown.err, "did you mean \"oak\"?"));
    CHECK_FALSE(std::filesystem::exists(out.path() / "x.wav"));
}

TEST_CASE("demo: writes its three files and says where", "[tool]") {
    const Folder out;
    const Ran ran = kiai_tool("demo --out shown", out.path());
    INFO(ran.err);
    REQUIRE(ran.status == 0);
    for (const char* name : {"shown/run.wav", "shown/log.jsonl", "shown/run.png"}) {
        CHECK(std::filesystem::file_size(out.path() / name) > 10000);
        CHECK(has(ran.out, name));
    }
    CHECK(has(ran.out, "press hopper: played hopper"));
    CHECK(json::parse(kiai_tool("demo --out shown --json", out.path()).out)["sounds"].size() == 13);
    out.write("file", "");
    CHECK(kiai_tool("demo --out file/below", out.path()).status == 1);
}

TEST_CASE("check: what is idle only for another's error is not told", "[tool]") {
    const ProjectFolder folder(
        "[clip]\noak = { file = \"oak.wav\", licence = \"CC0-1.0\" }\n[sound.plank]\ntakes = [\"oak\"]\ngain = 75\n");
    folder.write_wav("oak.wav", Signal(10, 0.1f));
    const json findings = json::parse(kiai_tool("check --json", folder.path()).out)["findings"];
    REQUIRE(findings.size() == 1);
    CHECK(findings[0]["code"] == "bad-value");
}

TEST_CASE("zones: from front to back, who takes a press, and the picture", "[tool]") {
    Folder out;
    const Ran told =
        kiai_tool("zones " + quoted(demo()) + " " + quoted(demo() / "run.jsonl") + " --picture z.png", out.path());
    CHECK(told.status == 0);
    for (const char* part : {"3  lamp", "press 452 548: zone lamp", "press 300 545: zone tray",
                             "press 720 560: no zone", "press 380 300: zone brass-box"}) {
        INFO(told.out);
        CHECK(has(told.out, part));
    }
    CHECK(out.read("z.png").substr(1, 3) == "PNG");
    const json asked = json::parse(kiai_tool("zones " + quoted(demo()) + " --press 250 300 --scope drawer --json").out);
    CHECK(asked["presses"][0]["zone"] == "oak-box");
    CHECK(asked["zones"].size() == 10);
    const ProjectFolder hidden(
        "[zone.under]\ncircle = { x = 5, y = 5, r = 4 }\n[zone.over]\nrectangle = { x = 0, y = 0, "
        "width = 10, height = 10 }\norder = 1\n[zone.beside]\ncircle = { x = 9, y = 9, r = 4 }\n");
    CHECK(has(kiai_tool("check", hidden.path()).out,
              "warning: zone \"under\": \"over\" in front receives every press [covered-zone]"));
    CHECK_FALSE(has(kiai_tool("check", hidden.path()).out, "zone \"beside\": \"over\""));
    CHECK(has(kiai_tool("zones", hidden.path()).out, "covered"));
}

TEST_CASE("trace: told, cut, joined, and held beside a project", "[tool]") {
    Folder out;
    const std::string run = quoted(demo() / "run.jsonl");
    const Ran told = kiai_tool("trace " + run, out.path());
    CHECK(told.status == 0);
    for (const char* part : {"29.98 s", "seed 7", "playhead", "contact", "marble+oak"}) CHECK(has(told.out, part));
    CHECK(kiai_tool("trace " + run + " --start 15 --end 17 --out crowd.jsonl", out.path()).status == 0);
    const json part = json::parse(kiai_tool("trace crowd.jsonl --json", out.path()).out);
    CHECK(part["kinds"]["contact"]["times"] == 50);
    CHECK(part["seconds"].get<double>() < 3);
    const json twice = json::parse(kiai_tool("trace crowd.jsonl crowd.jsonl --interval 1 --json", out.path()).out);
    CHECK(twice["reports"] == 2 * part["reports"].get<int>());
    CHECK(kiai_tool("rehearse " + quoted(demo()) + " crowd.jsonl", out.path()).status == 0);
    out.write("old.jsonl", "{\"at\": 0, \"notice\": \"run-completed\"}\n");
    const Ran old = kiai_tool("trace " + quoted(demo()) + " old.jsonl", out.path());
    CHECK(has(old.err,
              "old.jsonl:1: warning: the project has no binding of notice \"run-completed\" [trace-misfit]; the "
              "nearest is \"run-complete\""));
    CHECK(kiai_tool("trace nowhere.jsonl", out.path()).status == 1);
    CHECK(kiai_tool("trace " + run + " --out /nowhere/x.jsonl", out.path()).status == 3);
}
