// Commands that play, in a terminal with keys typed, and with a sound server that records.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"
#include "support/text.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <cstring>

using namespace support;
namespace fs = std::filesystem;

namespace {

const std::string terminal = "'" + source_folder() + "/tests/support/in-terminal' ";
const std::string server = "'" + source_folder() + "/tests/output/with-sound-server' ";

std::size_t times(const std::string& text, const std::string& part) {
    std::size_t count = 0;
    for (std::size_t at = 0; (at = text.find(part, at)) != std::string::npos; at += part.size()) ++count;
    return count;
}

/// A folder with a copy of the demo and a recording that is in no project.
struct Desk : Folder {
    Desk() {
        fs::copy(demo(), path() / "bench", fs::copy_options::recursive);
        fs::create_directory(path() / "found");
        write_wav("found/Tin Plate_1.wav", sine(500, 0.2, 9600));
        write_wav("found/Tin Plate_2.wav", sine(700, 0.2, 9600));
        fs::create_directory(path() / "server");
    }

    /// Types `steps` at a command, with a sound server; the recording is `RECORDED` in the steps.
    Ran type(std::string steps, const std::string& arguments) const {
        const std::string name = "RECORDED", file = (path() / "server/recorded.raw").string();
        for (std::size_t at = 0; (at = steps.find(name)) != std::string::npos;) steps.replace(at, name.size(), file);
        return run(server + "'" + (path() / "server").string() + "' " + terminal + "'" + steps + "' '" + tested_tool() +
                       "' " + arguments,
                   path());
    }

    /// Returns the strongest of the frequencies in the recording.
    double strongest(std::initializer_list<double> frequencies) const {
        const std::string bytes = read("server/recorded.raw");
        std::vector<float> samples(bytes.size() / sizeof(float));
        std::memcpy(samples.data(), bytes.data(), samples.size() * sizeof(float));
        const Signal left = side(samples, 0);
        double best = 0, strongest = 0;
        for (const double frequency : frequencies) {
            double re = 0, im = 0;
            for (std::size_t i = 0; i < left.size(); ++i) {
                const double angle = 2 * M_PI * frequency * static_cast<double>(i) / 48000;
                re += left[i] * std::cos(angle), im += left[i] * std::sin(angle);
            }
            if (const double power = re * re + im * im; power > best) best = power, strongest = frequency;
        }
        return best > 0 ? strongest : 0;
    }
};

} // namespace

TEST_CASE("hear: space plays again, the arrow keys move, q ends", "[device][tool][terminal]") {
    const Desk desk;
    const Ran ran = desk.type("q:%20end <heard:RECORDED> <space> 1/9 <right> 2/9 <heard:RECORDED> <left> 1/9 <q>",
                              "hear bench \"oak-?\"");
    INFO(ran.out << ran.err);
    REQUIRE(ran.status == 0);
    CHECK(times(ran.out, "1/9") == 3);
    CHECK(has(ran.out, "oak-2"));
    CHECK(has(ran.out, "0.320 s  -22.2 LUFS  WAV, 16-bit, 44100 Hz, mono"));
}

TEST_CASE("hear: files that are in no project are heard, and `a` adds one", "[device][tool][terminal]") {
    const Desk desk;
    const Ran heard = desk.type("q:%20end <heard:RECORDED> <q>", "hear found/*_2.wav");
    INFO(heard.out << heard.err);
    REQUIRE(heard.status == 0);
    CHECK(desk.strongest({300, 500, 700, 900}) == 700);
    CHECK(!has(heard.out, "a: add")); // there is no project
    const Ran added = desk.type("q:%20end <right> 2/2 <a> added <a> known <q>", "hear -C bench found");
    INFO(added.out << added.err);
    REQUIRE(added.status == 0);
    CHECK(has(added.out, "tin-plate-2"));
    CHECK(has(desk.read("bench/kiai.toml"), "tin-plate-2 = \"clips/Tin Plate_2.wav\""));
}

TEST_CASE("hear: --watch plays a file again when it changes", "[device][tool][terminal]") {
    const Desk desk;
    const std::string file = (desk.path() / "bench/clips/oak-1.wav").string();
    const Ran ran = desk.type("q:%20end <touch:" + file + "> 1/1 <touch:" + (desk.path() / "bench/kiai.toml").string() +
                                  "> 1/1 <heard:RECORDED> <q>",
                              "hear bench oak-1 --watch");
    INFO(ran.out << ran.err);
    CHECK(ran.status == 0);
}

TEST_CASE("hear: without a device the facts are still shown, and the reason is printed once", "[tool][terminal]") {
    const Desk desk;
    const Ran ran =
        run(terminal + "'q:%20end <space> 1/1 <q>' '" + tested_tool() + "' hear bench oak-1 --device no-such-device",
            desk.path());
    INFO(ran.out << ran.err);
    CHECK(ran.status == 1);
    CHECK(times(ran.out, "nothing can be heard") == 1);
    CHECK(times(ran.out, "1/1") == 2);
}

TEST_CASE("hear: unknown names, patterns and folders are errors", "[tool][terminal]") {
    const Desk desk;
    fs::create_directory(desk.path() / "empty");
    CHECK(has(kiai_tool("hear bench okk --out x.wav", desk.path()).err, "did you mean \"oak\"?"));
    CHECK(has(kiai_tool("hear bench 'okk-*' --out x.wav", desk.path()).err, "matches \"okk-*\""));
    CHECK(has(kiai_tool("hear empty --out x.wav", desk.path()).err, "no audio file"));
    CHECK(has(kiai_tool("hear bench 'oak-*' --out x.wav", desk.path()).err, "--out takes one sound, but 9 are named"));
    CHECK(kiai_tool("hear found/*_1.wav --out x.wav", desk.path()).status == 0);
    CHECK(fs::exists(desk.path() / "x.wav"));
}

TEST_CASE("fire walks through the bindings by keys, and rehearse plays the run", "[device][tool][terminal]") {
    const Desk desk;
    const Ran fired = desk.type("q:%20end <heard:RECORDED> <right> 2/24 <left> 1/24 <q>", "fire bench");
    INFO(fired.out << fired.err);
    CHECK(fired.status == 0);
    CHECK(has(fired.out, "press hopper"));
    CHECK(has(fired.out, "heard, -2.3 dBFS, hopper"));
    desk.write("short.jsonl", "{\"at\": 0.1, \"play\": \"oak\"}\n");
    const Ran played = desk.type("limiter <heard:RECORDED>", "rehearse bench short.jsonl");
    INFO(played.out << played.err);
    CHECK(played.status == 0);
    CHECK(has(desk.type("1%20heard", "fire bench press hopper --quiet").out, "1 binding: 1 heard"));
    CHECK(kiai_tool("fire bench press hopper", desk.path()).status == 0); // no terminal: the table
}

TEST_CASE("trim --compare plays the old and the new file", "[device][tool][terminal]") {
    const Desk desk;
    const Ran ran = desk.type("before%20 <heard:RECORDED>", "trim bench oak-1 --loudness -20 --compare");
    INFO(ran.out << ran.err);
    CHECK(ran.status == 0);
    CHECK(has(ran.out, "oak-1: before -22.2 LUFS, after -20.0 LUFS"));
}
