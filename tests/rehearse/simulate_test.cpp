// A trigger, thousands of times: the results are as the project states.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include <numeric>

using namespace support;
using kiai::Simulation;

namespace {

/// Four takes, of which the third is 6 dB quieter.
kiai::Project four_takes(const std::string& sound, const std::string& more = {}) {
    const ProjectFolder folder(
        "[clip]\na-1 = \"a.wav\"\na-2 = \"a.wav\"\na-3 = { file = \"a.wav\", gain = -6 }\na-4 = \"a.wav\"\n"
        "[dial.stock]\nrange = [0, 9]\n[sound.s]\ntakes = { series = \"a\" }\n" +
        sound + "\n[[binding]]\ntrigger = { notice = \"n\" }\naction = { play = \"s\" }\n" + more);
    folder.write_wav("a.wav", Signal(480, 0.1f));
    return folder.load();
}

Simulation fired(const kiai::Project& project, int times = 4000, double interval = 0.05) {
    kiai::SimulateSettings settings;
    settings.times = times;
    settings.interval = kiai::Seconds(interval);
    return kiai::simulate(project, 1, settings);
}

} // namespace

TEST_CASE("Simulated takes come as often as stated", "[simulate]") {
    const Simulation shuffled = fired(four_takes(""));
    REQUIRE(shuffled.sounds.size() == 1);
    CHECK(shuffled.sounds[0].plays == 4000);
    const auto& layer = shuffled.sounds[0].layers[0];
    CHECK(layer.heard == 4000);
    CHECK(layer.same_twice == 0);
    for (const auto& take : layer.takes) {
        CHECK(take.count == 1000);
        CHECK(take.stated == 0.25);
    }
    const Simulation weighted = fired(four_takes("pick = \"weighted\"\n"));
    CHECK(weighted.sounds[0].layers[0].same_twice == Approx(1000).margin(120)); // a quarter; 4.4 sigma
    CHECK(weighted.sounds[0].layers[0].pick == "weighted");
}

TEST_CASE("Histograms lie by what is stated, whatever the spread, and off it where it is another", "[simulate]") {
    // The critical value of Kolmogorov and Smirnov at p = 0.001: 1.95 / sqrt(n).
    const double most = 1.95 / std::sqrt(4000);
    for (const char* vary :
         {"vary = { pitch = 2, gain = 3 }", "vary = { pitch = [-1, 4], gain = [0, 2], distribution = \"bell\" }",
          "vary = { pitch = 0.5 }\ngain = -3\npitch = 2"}) {
        const Simulation simulation = fired(four_takes(vary));
        const auto& layer = simulation.sounds[0].layers[0];
        INFO(vary);
        REQUIRE(layer.pitch.counts.size() == layer.pitch.stated.size());
        CHECK(layer.pitch.difference < most);
        CHECK(layer.pitch.difference > 0);
        CHECK(std::accumulate(layer.pitch.stated.begin(), layer.pitch.stated.end(), 0.0) == Approx(1));
        CHECK(std::accumulate(layer.pitch.counts.begin(), layer.pitch.counts.end(), 0) == 4000);
        CHECK(layer.gain.difference < most); // a mixture, since one take is quieter
        CHECK(layer.gain.high - layer.gain.low > 5.9);
    }
    const Simulation fixed = fired(four_takes("pitch = 3\n"), 100);
    CHECK(fixed.sounds[0].layers[0].pitch.counts.empty());
    CHECK(fixed.sounds[0].layers[0].pitch.low == Approx(3));
}

TEST_CASE("Layers, chance, and spreads of a layer and of the whole together", "[simulate]") {
    const ProjectFolder folder(
        "[clip]\na-1 = \"a.wav\"\na-2 = \"a.wav\"\na-3 = \"a.wav\"\n[sound.s]\nvary = { pitch = 1 }\n"
        "[[sound.s.layer]]\ntakes = [\"a-1\"]\nvary = { pitch = 2 }\n"
        "[[sound.s.layer]]\ntakes = { series = \"a\" }\nchance = 0.3\nvary = { pitch = 1, distribution = \"bell\" }\n"
        "[[binding]]\ntrigger = { contact = [\"x\", \"y\"] }\naction = { play = \"s\", pitch = 2 }\n");
    folder.write_wav("a.wav", Signal(480, 0.1f));
    const Simulation simulation = fired(folder.load());
    const auto& layers = simulation.sounds[0].layers;
    REQUIRE(layers.size() == 2);
    CHECK(layers[0].heard == 4000);
    CHECK(layers[1].heard == Approx(1200).margin(130)); // 4.5 sigma
    CHECK(layers[1].chance == 0.3);
    CHECK(layers[1].same_twice == 0);         // of what was heard
    CHECK(layers[0].pitch.low == Approx(-1)); // 2 + (±1) + (±2)
    CHECK(layers[0].pitch.high == Approx(5));
    CHECK(layers[0].pitch.difference < 1.95 / std::sqrt(4000));
    CHECK(layers[1].pitch.difference < 1.95 / std::sqrt(1200));
    // A sum of ±1 and ±2 is flat in its middle and falls to zero at its ends.
    const auto& stated = layers[0].pitch.stated;
    CHECK(stated[stated.size() / 2] == Approx(0.25 * 6 / static_cast<double>(stated.size())));
    CHECK(stated.front() < 0.2 * stated[stated.size() / 2]);
}

TEST_CASE("Refusals and conditions are counted by their rule", "[simulate]") {
    const Simulation dense = fired(four_takes("limit = { gap = \"80 ms\" }\n"), 1000, 0.05);
    CHECK(dense.sounds[0].plays == 500);
    CHECK(dense.sounds[0].refused.at("gap") == 500);
    const Simulation kept = fired(four_takes("", "every = 4\n"), 1000);
    CHECK(kept.sounds[0].plays == 250);
    CHECK(kept.kept.at("every 4") == 750);
}

TEST_CASE("Every trigger that can come again is simulated, one that cannot says so", "[simulate]") {
    for (const char* trigger :
         {"press = \"z\"", "release = \"z\"", "enter = \"z\"", "leave = \"z\"", "key-down = \"KeyT\"",
          "key-up = \"KeyT\"", "contact = [\"a\", \"b\"]", "contact-end = [\"a\", \"b\"]", "marker = [\"m\", \"t\"]",
          "watch = \"stock > 5\"", "scope-enter = \"x\"", "scope-leave = \"x\"", "every = \"20 ms\"",
          "ended = \"tone\""}) {
        const kiai::Project project = project_of(
            Signal(480, 0.1f),
            "[zone.z]\ncircle = { x = 50, y = 50, r = 9 }\n[motion.m]\nframes = 60\nmarkers = { t = 10 }\n"
            "[dial.stock]\nrange = [0, 9]\n[scope.x]\n[sound.s]\ntakes = [\"tone\"]\n[[binding]]\ntrigger = { " +
                std::string(trigger) + " }\naction = { play = \"s\" }\n");
        const Simulation simulation = fired(project, 50, 0.1);
        INFO(trigger << " " << simulation.impossible);
        REQUIRE(simulation.sounds.size() == 1);
        CHECK(simulation.sounds[0].plays >= 50);
        CHECK(simulation.sounds[0].plays <= 51);
    }
    const kiai::Project once =
        project_of(Signal(480, 0.1f), "[[binding]]\ntrigger = { start = true }\naction = { play = \"tone\" }\n");
    CHECK(fired(once).impossible == "start happens only once per engine");
    CHECK(kiai::simulate(once, 9).impossible == "no such binding");
}

TEST_CASE("kiai simulate: counts for people and programs, and a picture", "[simulate][tool]") {
    const Folder folder;
    const std::string command = "simulate '" + demo().string() + "' contact marble oak --times 500";
    const Ran told = kiai_tool(command + " --picture oak.png", folder.path());
    INFO(told.out << told.err);
    CHECK(told.status == 0);
    CHECK(told.out.find(
              "contact marble+oak fired 500 times, seed 1\noak: 500 plays\n  layer 1: heard in 500 of 500 plays; "
              "shuffle of 9 takes\n") != std::string::npos);
    CHECK(told.out.find("the same take twice in a row: never") != std::string::npos);
    CHECK(folder.read("oak.png").substr(1, 3) == "PNG");
    const auto json = nlohmann::json::parse(kiai_tool(command + " --json").out);
    CHECK(json["sounds"][0]["layers"][0]["takes"].size() == 9);
    CHECK(json["sounds"][0]["plays"] == 500);
    CHECK(kiai_tool("simulate '" + demo().string() + "'").status == 2);
    CHECK(kiai_tool("simulate '" + demo().string() + "' nonsense here").status == 2);
    CHECK(kiai_tool("simulate '" + demo().string() + "' contact marble tin").err.find("nothing is bound to it") !=
          std::string::npos);
}
