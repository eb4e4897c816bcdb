// Findings of `check` about actions without an effect, sounds that outlive their scope, and endless cascades; and that
// each disappears with its cause.
#include "support/bench.h"

#include <kiai/workshop/add.h>
#include <kiai/workshop/catalogue.h>
#include <kiai/workshop/check.h>
#include <kiai/workshop/credits.h>
#include <kiai/workshop/fire.h>

#include <catch2/catch.hpp>

using namespace support;
using kiai::FindingCode;

namespace {

std::vector<kiai::Finding> checked(const std::string& text, const Signal& samples = sine(300, 0.1, 9600)) {
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\n" + text);
    folder.write_wav("tone.wav", samples);
    return kiai::check_project(folder.path()).findings;
}

std::size_t count(const std::vector<kiai::Finding>& findings, FindingCode code) {
    return static_cast<std::size_t>(
        std::count_if(findings.begin(), findings.end(), [&](const auto& one) { return one.code == code; }));
}

} // namespace

TEST_CASE("A stop of what nothing plays, and a notice that nothing is bound to", "[check]") {
    const std::string s = "[sound.s]\ntakes = [\"tone\"]\n";
    CHECK(count(checked(s + binding("notice = \"n\"", "stop = \"s\"")), FindingCode::dead_stop) == 1);
    CHECK(count(checked(s + binding("notice = \"n\"", "stop = \"s\"") + binding("notice = \"m\"", "play = \"s\"")),
                FindingCode::dead_stop) == 0);
    CHECK(count(checked(binding("notice = \"n\"", "stop = \"tone\"")), FindingCode::unused_clip) == 1);
    CHECK(count(checked(binding("notice = \"n\"", "notice = \"leave\"")), FindingCode::nothing_bound) == 1);
    CHECK(count(checked(binding("notice = \"n\"", "notice = \"m\"") + binding("notice = \"m\"", "play = \"tone\"")),
                FindingCode::nothing_bound) == 0);
}

TEST_CASE("What entering a scope starts, and leaving it does not end", "[check]") {
    const std::string loop = "[scope.menu]\n[sound.hum]\ntakes = [\"tone\"]\nloop = true\n";
    const auto outlives = [&](const std::string& text) {
        return count(checked(loop + text), FindingCode::outlives_scope);
    };
    CHECK(outlives(binding("scope-enter = \"menu\"", "play = \"hum\"")) == 1);
    CHECK(outlives(binding("scope-enter = \"menu\"", "play = \"hum\"", "scope = \"menu\"")) == 0);
    CHECK(outlives(binding("scope-enter = \"menu\"", "hold = \"hum\"")) == 0);
    CHECK(outlives(binding("scope-enter = \"menu\"", "play = \"hum\"") +
                   binding("scope-leave = \"menu\"", "stop = \"hum\"")) == 0);
    CHECK(outlives(binding("scope-enter = \"menu\"", "play = \"tone\"")) == 0);
}

TEST_CASE("Notices and sequences that cause each other at one moment", "[check][cascade]") {
    const auto endless = [&](const std::string& text) { return count(checked(text), FindingCode::endless_cascade); };
    CHECK(endless(binding("notice = \"n\"", "notice = \"n\"")) == 1);
    CHECK(endless(binding("notice = \"n\"", "notice = \"m\"") + binding("notice = \"m\"", "notice = \"n\"")) == 1);
    CHECK(endless("[sequence.q]\nsteps = [{ run = \"q\" }, { run = \"q\" }]\n" +
                  binding("notice = \"n\"", "run = \"q\"")) == 1);
    CHECK(endless("[sequence.q]\nsteps = [{ wait = \"1 s\" }, { run = \"q\" }]\n" +
                  binding("notice = \"n\"", "run = \"q\"")) == 0);
    CHECK(endless(binding("notice = \"n\"", "notice = \"n\"", "once = true")) == 0);
    CHECK(endless(binding("notice = \"n\"", "notice = \"m\"") + binding("notice = \"m\"", "play = \"tone\"")) == 0);
}

TEST_CASE("Findings about a file go away once gain or start have dealt with them", "[check]") {
    const Signal loud = noise(0.95, 48000, 1);
    const auto of = [&](const std::string& text, const Signal& samples, FindingCode code) {
        const ProjectFolder folder(text);
        folder.write_wav("tone.wav", samples);
        return count(kiai::check_project(folder.path()).findings, code);
    };
    const std::string sound = "[sound.s]\ntakes = [\"tone\"]\n";
    CHECK(of("[clip]\ntone = \"tone.wav\"\n" + sound, loud, FindingCode::clip_too_loud) == 1);
    CHECK(of("[clip]\ntone = { file = \"tone.wav\", gain = -14 }\n" + sound, loud, FindingCode::clip_too_loud) == 0);
    Signal late(4800, 0.0f);
    const Signal tone = sine(300, 0.1, 4800);
    late.insert(late.end(), tone.begin(), tone.end());
    CHECK(of("[clip]\ntone = \"tone.wav\"\n" + sound, late, FindingCode::leading_silence) == 1);
    CHECK(of("[clip]\ntone = \"tone.wav\"\n" + sound + "start = \"99 ms\"\n", late, FindingCode::leading_silence) == 0);
    std::size_t offsets = 0;
    for (std::uint64_t seed = 1; seed <= 40; ++seed) { // short noises that rise and fall have no offset
        Signal hiss = noise(0.9, 9600, seed);
        for (std::size_t i = 0; i < hiss.size(); ++i)
            hiss[i] *= static_cast<float>(std::sin(pi * static_cast<double>(i) / static_cast<double>(hiss.size())));
        offsets += of("[clip]\ntone = \"tone.wav\"\n", hiss, FindingCode::dc_offset);
    }
    CHECK(offsets == 0);
    Signal shifted = sine(300, 0.1, 9600);
    for (float& x : shifted) x += 0.03f;
    CHECK(of("[clip]\ntone = \"tone.wav\"\n", shifted, FindingCode::dc_offset) == 1);
}

TEST_CASE("A binding is judged by its own plays", "[fire]") {
    const kiai::Project project =
        project_of(sine(300, 0.5, 4800), "[zone.z]\ncircle = { x = 0, y = 0, r = 5 }\n[sound.faint]\ntakes = "
                                         "[\"tone\"]\ngain = -110\n" +
                                             binding("press = \"z\"", "play = \"faint\"") +
                                             binding("press = \"z\"", "play = \"tone\""));
    const std::vector<kiai::FireResult> all = kiai::fire_all(project);
    REQUIRE(all.size() == 2);
    CHECK_FALSE(all[0].heard);
    CHECK(all[0].level < -100);
    CHECK(all[1].heard);
}

TEST_CASE("A clip gets the same name alone and in company, and one by one makes a series too", "[add]") {
    const ProjectFolder folder("[clip]\n");
    const Folder files;
    for (int n : {1, 4, 5}) files.write_wav("stamp" + std::to_string(n) + ".wav", sine(300.0 + n, 0.1, 4800));
    const auto add = [&](const std::vector<std::filesystem::path>& which) {
        const kiai::AddResult added = kiai::add_files(folder.path(), which);
        std::string names;
        for (const kiai::AddedFile& file : added.files) names += file.name + ' ';
        return names + (added.series.empty() ? "" : added.series[0].name + (added.series[0].made_sound ? " made" : ""));
    };
    CHECK(add({files.path() / "stamp1.wav"}) == "stamp-1 ");
    CHECK(add({files.path() / "stamp4.wav"}) == "stamp-4 stamp made");
    CHECK(add({files.path() / "stamp5.wav"}) == "stamp-5 stamp");
    CHECK(folder.load_with_findings().ok());
}

TEST_CASE("What a new project brings is credited to its makers, what is added to nobody", "[add][credits]") {
    const Folder work;
    REQUIRE(kiai::new_project(work.path() / "game").empty());
    work.write_wav("mine.wav", sine(300, 0.1, 4800));
    static_cast<void>(kiai::add_files(work.path() / "game", {work.path() / "mine.wav"}));
    const kiai::Credits credits = kiai::gather_credits(work.path() / "game");
    CHECK(credits.unrecorded == std::vector<std::string>{"mine"});
}
