// Firing triggers by hand: what fires, what is heard, and why not.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace support;
using kiai::FireResult;

namespace {

kiai::Project bound_project(const std::string& bindings) {
    return project_of(sine(440, 0.25, 4800),
                      "[dial.stock]\nrange = [0, 9]\n[scope.bench]\n[scope.drawer]\non = true\n"
                      "[zone.plank]\nrectangle = { x = 0, y = 0, width = 90, height = 90 }\nscope = \"bench\"\n"
                      "[zone.lid]\nrectangle = { x = 20, y = 20, width = 60, height = 60 }\norder = 3\n"
                      "[motion.wheel]\nframes = 60\nmarkers = { tooth = [0, 30] }\n"
                      "[sound.hum]\ntakes = [\"tone\"]\nloop = true\n" +
                          bindings);
}

std::string binding_to(const std::string& trigger, const std::string& action = "play = \"tone\"",
                       const std::string& more = {}) {
    return "[[binding]]\ntrigger = { " + trigger + " }\naction = { " + action + " }\n" + more + "\n";
}

} // namespace

TEST_CASE("Each kind of trigger fires in a fresh engine, and what it plays is heard", "[fire]") {
    for (const char* trigger : {"press = \"plank\"",
                                "release = \"plank\"",
                                "enter = \"plank\"",
                                "leave = \"plank\"",
                                "key-down = \"KeyT\"",
                                "key-up = \"KeyT\"",
                                "contact = [\"a\", \"b\"]",
                                "contact-end = [\"a\", \"b\"]",
                                "marker = [\"wheel\", \"tooth\"]",
                                "watch = \"stock > 8.5\"",
                                "watch = \"stock < 0.5\"",
                                "watch = \"stock > 3 and stock < 3.5\"",
                                "notice = \"n\"",
                                "start = true",
                                "scope-enter = \"bench\"",
                                "scope-enter = \"drawer\"",
                                "scope-leave = \"bench\"",
                                "after = \"3 s\"",
                                "every = \"20 s\"",
                                "ended = \"hum\""}) {
        const FireResult fired = kiai::fire(bound_project(binding_to(trigger)), 1);
        INFO(trigger << ": " << fired.why.message());
        CHECK(fired.fired);
        CHECK(fired.heard);
        CHECK(fired.good());
        CHECK(fired.level == Approx(20 * std::log10(0.25)).margin(0.1));
        CHECK(fired.sounds == std::vector<std::string>{"tone"});
    }
}

TEST_CASE("What is heard only in the end counts: notices, sequences, ends", "[fire]") {
    const std::string chain = binding_to("notice = \"a\"", "notice = \"b\"") +
                              binding_to("notice = \"b\"", "run = \"s\"") +
                              "[sequence.s]\nsteps = [{ wait = \"2 s\" }, { play = \"tone\" }]\n";
    CHECK(kiai::fire(bound_project(chain), 1).heard);
    kiai::FireSettings soon;
    soon.listen = kiai::Seconds(1);
    const FireResult late = kiai::fire(bound_project(chain), 1, soon);
    CHECK_FALSE(late.heard);
    CHECK(late.fired);
}

TEST_CASE("Conditions are as they stand, and may be set aside, a binding without a play is good", "[fire]") {
    const kiai::Project project = bound_project(
        binding_to("notice = \"n\"", "play = \"tone\"", "when = \"stock > 0\"") +
        binding_to("notice = \"m\"", "stop = \"hum\"") + binding_to("notice = \"o\"", "play = \"tone\", gain = -60"));
    const auto all = kiai::fire_all(project);
    REQUIRE(all.size() == 3);
    CHECK_FALSE(all[0].fired);
    CHECK_FALSE(all[0].good());
    REQUIRE(all[0].why.broken());
    CHECK(all[0].why.broken()->link == kiai::Link::condition);
    CHECK((all[1].silent_by_design && all[1].good() && !all[1].heard));
    CHECK((all[2].fired && !all[2].heard && !all[2].good()));
    CHECK(all[2].why.broken()->link == kiai::Link::level);
    kiai::FireSettings anyway;
    anyway.anyway = true;
    CHECK(kiai::fire(project, 1, anyway).heard);
    CHECK(kiai::fire(project, 0).why.broken()->detail == "no such binding");
    CHECK(kiai::bindings_to(project, *kiai::read_trigger("notice m")) == std::vector<int>{2});
}

TEST_CASE("Strength and place of a contact, and a trace of what was reported", "[fire]") {
    const kiai::Project project =
        project_of(Signal(4800, 0.25f),
                   "[sound.knock]\ntakes = [\"tone\"]\nfollow = [{ value = \"strength\", target = \"gain\", curve = "
                   "[[0, -40], [1, 0]] }]\n" +
                       binding_to("contact = [\"a\", \"b\"]", "play = \"knock\""));
    kiai::FireSettings soft;
    soft.strength = 0.5f;
    CHECK(kiai::fire(project, 1, soft).level - kiai::fire(project, 1).level == Approx(-20).margin(0.1));
    const kiai::Rehearsal again = kiai::rehearse(project, kiai::trace_of(project, 1, soft));
    REQUIRE(with_outcome(again.decisions, kiai::Outcome::played).size() == 1);
    CHECK(with_outcome(again.decisions, kiai::Outcome::played)[0].layers[0].gain == Approx(-20).margin(0.1));
}

TEST_CASE("kiai fire: the demo is heard whole, and a silent binding is status 1", "[fire][tool]") {
    const Ran all = kiai_tool("fire '" + demo().string() + "'");
    INFO(all.out << all.err);
    CHECK(all.status == 0);
    CHECK(all.out.find("24 bindings: 22 heard, 2 silent by design, 0 silent\n") != std::string::npos);
    const Folder folder;
    const Ran one = kiai_tool("fire '" + demo().string() + "' press 118 82 --json --out t.jsonl", folder.path());
    CHECK(one.status == 0);
    const auto json = nlohmann::json::parse(one.out)["bindings"];
    REQUIRE(json.size() == 1);
    CHECK(json[0]["trigger"] == "press hopper");
    CHECK(json[0]["heard"] == true);
    CHECK(kiai_tool("rehearse '" + demo().string() + "' t.jsonl --decisions", folder.path())
              .out.find("played hopper #1") != std::string::npos);
    const ProjectFolder silent("[clip]\ntone = \"tone.wav\"\n" +
                               binding_to("notice = \"n\"", "play = \"tone\"", "chance = 0"));
    silent.write_wav("tone.wav", sine(440, 0.2, 4800));
    const Ran quiet = kiai_tool("fire", silent.path());
    CHECK(quiet.status == 1);
    CHECK(quiet.out.find("0 heard, 0 silent by design, 1 silent") != std::string::npos);
    CHECK(kiai_tool("fire --ignore-conditions", silent.path()).status == 0);
    CHECK(kiai_tool("fire notice m", silent.path()).err.find("did you mean \"notice n\"?") != std::string::npos);
    CHECK(kiai_tool("fire nonsense here", silent.path()).status == 2);
}
