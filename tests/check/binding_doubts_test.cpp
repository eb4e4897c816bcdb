// Findings about bindings and sequences: for each a project that causes it, and the nearest valid one.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <algorithm>

using namespace support;

namespace {

const std::string one_clip = "[clip]\ntone = \"tone.wav\"\n[credit.\".\"]\nlicence = \"CC0-1.0\"\n";
const std::string looped = "[sound.hum]\ntakes = [\"tone\"]\nloop = true\n";

/// Returns each finding and its subject: `loop-unended hum`.
std::vector<std::string> found(const std::string& toml) {
    const ProjectFolder folder(one_clip + toml);
    folder.write_wav("tone.wav", sine(440, 0.1, 48000)); // a second
    std::vector<std::string> all;
    for (const kiai::Finding& finding : kiai::check_project(folder.path()).findings) {
        INFO(finding);
        REQUIRE(finding.severity != kiai::Severity::error);
        all.push_back(std::string(to_string(finding.code)) + ' ' + finding.entry);
    }
    return all;
}

std::string on(const std::string& trigger, const std::string& action, const std::string& more = {}) {
    return "[[binding]]\ntrigger = { " + trigger + " }\naction = " + action + "\n" + more + "\n";
}

using Found = std::vector<std::string>;

} // namespace

TEST_CASE("A play and a stop of it in one moment", "[check][doubt]") {
    CHECK(found(on("notice = \"n\"", "[{ play = \"tone\" }, { stop = \"tone\" }]")) == Found{"play-and-stop tone"});
    CHECK(found(on("notice = \"n\"", "[{ stop = \"tone\" }, { play = \"tone\" }]")).empty());
}

TEST_CASE("A loop that nothing ends", "[check][doubt]") {
    const std::string begins = looped + on("notice = \"n\"", "{ play = \"hum\" }");
    CHECK(found(begins) == Found{"loop-unended hum"});
    for (const char* end : {"{ stop = \"hum\" }", "{ toggle = \"hum\" }", "{ stop = { bus = \"main\" } }",
                            "{ stop = { everything = true } }"}) {
        INFO(end);
        CHECK(found(begins + on("notice = \"m\"", end)).empty());
    }
    CHECK(found(looped + on("press = \"z\"", "{ hold = \"hum\" }") + "[zone.z]\ncircle = { x = 0, y = 0, r = 9 }\n")
              .empty());
    CHECK(found(looped + on("notice = \"n\"", "{ play = \"hum\", for = \"3 s\" }")).empty());
    CHECK(found(looped + on("notice = \"n\"", "{ play = \"hum\" }", "scope = \"bench\"") + "[scope.bench]\n").empty());
    CHECK(found(looped + on("start = true", "{ play = \"hum\" }")).empty()); // it is there as long as the app
    CHECK(found("[sound.hum]\ntakes = [\"tone\"]\nloop = { count = 5 }\n" + on("notice = \"n\"", "{ play = \"hum\" }"))
              .empty());
    const std::string runs = looped + on("notice = \"n\"", "{ run = \"s\" }");
    CHECK(found(runs + "[sequence.s]\nsteps = [{ wait = \"1 s\" }, { play = \"hum\" }]\n") ==
          Found{"loop-unended hum"});
    CHECK(found(runs + "[sequence.s]\nscope = \"bench\"\nsteps = [{ play = \"hum\" }]\n[scope.bench]\n").empty());
}

TEST_CASE("A wait where there is nothing to wait for", "[check][doubt]") {
    const auto steps = [](const std::string& text) {
        return found(on("notice = \"n\"", "{ run = \"s\" }") + "[sequence.s]\nsteps = [" + text + "]\n");
    };
    CHECK(steps("{ play = \"tone\" }, { wait = \"1 s\" }") == Found{"idle-wait s"});
    CHECK(steps("{ play = \"tone\" }, { wait = \"end\" }") == Found{"idle-wait s"});
    CHECK(steps("{ wait = \"end\" }, { play = \"tone\" }") == Found{"idle-wait s"});
    CHECK(steps("{ wait = \"1 s\" }, { play = \"tone\" }").empty());
    CHECK(steps("{ play = \"tone\" }, { wait = \"end\" }, { play = \"tone\" }").empty());
    CHECK(steps("{ repeat = 2, steps = [{ play = \"tone\" }, { wait = \"1 s\" }] }").empty()); // between two turns
}

TEST_CASE("One recording for a frequent trigger", "[check][doubt]") {
    const std::string touch = "contact = [\"a\", \"b\"]";
    CHECK(found(on(touch, "{ play = \"tone\" }")) == Found{"no-variation tone"});
    CHECK(found(on("notice = \"n\"", "{ play = \"tone\" }")).empty());
    const std::string knock = "[sound.knock]\ntakes = [\"tone\"]\n";
    CHECK(found(knock + "vary = { pitch = 1 }\n" + on(touch, "{ play = \"knock\" }")).empty());
    CHECK(found(knock + "follow = [{ value = \"strength\", target = \"gain\", curve = [[0, -30], [1, 0]] }]\n" +
                on(touch, "{ play = \"knock\" }"))
              .empty());
    CHECK(found(knock + "follow = [{ value = \"place\", target = \"pan\", curve = [[-1, -1], [1, 1]] }]\n" +
                on(touch, "{ play = \"knock\" }")) == Found{"no-variation knock"});
}

TEST_CASE("A clip played as it is, though a sound has it as a take", "[check][doubt]") {
    const std::string knock =
        "[sound.knock]\ntakes = [\"tone\"]\nvary = { pitch = 1 }\n" + on("notice = \"m\"", "{ play = \"knock\" }");
    CHECK(found(knock + on("notice = \"n\"", "{ play = \"tone\" }")) == Found{"clip-beside-sound tone"});
    CHECK(found(knock + on("notice = \"n\"", "{ play = \"knock\" }")).empty());
}

TEST_CASE("A sound that lasts longer than the time between its triggers", "[check][doubt]") {
    const std::string knock = "[sound.knock]\ntakes = [\"tone\"]\nvary = { pitch = 1 }\n";
    const auto every = [&](const std::string& time, const std::string& more = {}) {
        return found(knock + more + on("every = \"" + time + "\"", "{ play = \"knock\" }"));
    };
    CHECK(every("500 ms") == Found{"overlap-grows knock"});
    CHECK(every("2 s").empty());
    CHECK(every("500 ms", "limit = { plays = 1 }\n").empty());
    const auto wheel = [&](const std::string& places) {
        return found(knock + "[motion.wheel]\nframes = 60\nrate = 30\nmarkers = { tooth = " + places + " }\n" +
                     on("marker = [\"wheel\", \"tooth\"]", "{ play = \"knock\" }"));
    };
    CHECK(wheel("[0, 20, 40]") == Found{"overlap-grows knock"}); // two thirds of a second
    CHECK(wheel("0").empty());
}

TEST_CASE("A marker that nothing is bound to, and one outside of its motion", "[check][doubt]") {
    const std::string wheel = "[motion.wheel]\nframes = 60\nmarkers = { tooth = 0, gap = 30 }\n";
    const std::string tooth = on("marker = [\"wheel\", \"tooth\"]", "{ play = \"tone\" }");
    const auto nothing = found(wheel + tooth);
    CHECK(std::count(nothing.begin(), nothing.end(), "nothing-bound wheel") == 1);
    const auto both = found(wheel + tooth + on("marker = [\"wheel\", \"gap\"]", "{ play = \"tone\" }"));
    CHECK(std::count(both.begin(), both.end(), "nothing-bound wheel") == 0);
    const ProjectFolder folder(one_clip + "[motion.wheel]\nframes = 60\nmarkers = { tooth = 60 }\n" + tooth);
    folder.write_wav("tone.wav", sine(440, 0.1, 480));
    const auto findings = folder.load_with_findings().findings;
    REQUIRE_FALSE(findings.empty());
    CHECK(findings[0].message.find("is outside of the motion") != std::string::npos);
}
