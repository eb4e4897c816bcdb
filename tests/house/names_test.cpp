// The header of a project's names: correct names compile, wrong ones and those of another kind do not.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/workshop/workshop.h>

#include <catch2/catch.hpp>

#include <string>

using namespace support;

namespace {

/// A file with the demo's names, and the lines of one function.
struct Source : Folder {
    Source() { REQUIRE(kiai_tool("names '" + demo().string() + "' --out names.h", path()).status == 0); }
    /// Compiles them as the lines from `first_line` on.
    Ran compile(const std::string& lines) const {
        write("use.cpp", "#include \"names.h\"\n#include <kiai/engine.h>\n"
                         "void use(kiai::Engine& bench, kiai::Play& roll) {\n" +
                             lines + "\n(void)bench; (void)roll; }\n");
        return run(compiler() + " -std=c++20 -Wall -Wextra -Werror -fsyntax-only -I" + source_folder() + "/include -I" +
                       build_folder() + "/include use.cpp",
                   path());
    }
    static constexpr int first_line = 4;
};

} // namespace

TEST_CASE("With the names header a wrong name, or one of another kind, does not compile", "[house][slow]") {
    const Source source;
    const Ran right = source.compile(R"(
        using namespace names;
        roll = bench.play(sound::roll, {.gain = -6, .bus = bus::pieces}, scope::bench);
        bench.play(clip::oak_1);
        bench.play(sound::groan_heavy, roll);
        bench.set_dial(dial::fill, 0.85f);
        bench.contact(contact::marble, contact::oak);
        bench.notice(notice::run_complete);
        bench.playhead(motion::paddle, 3);
        bench.enter_scope(scope::bench);
        bench.move_zone(zone::hopper, {1, 2});
        bench.set_bus_gain(bus::pieces, -3);
        bench.stop(sound::roll);
        bench.stop(kiai::Target::bus(bus::pieces), kiai::Seconds(1));
        bench.crossfade(sound::roll, sound::lift, kiai::Seconds(1));
        roll.set(value::speed, 2);
        bench.play("roll", {.bus = "pieces"}, "bench");)");
    INFO(right.err);
    CHECK(right.status == 0);
    const std::vector<std::string> wrong{"bench.play(names::sound::rol);",
                                         "bench.play(names::dial::fill);",
                                         "bench.set_dial(names::sound::roll, 1);",
                                         "bench.stop(names::bus::pieces);",
                                         "bench.stop(kiai::Target::bus(names::sound::roll));",
                                         "bench.notice(names::contact::marble);",
                                         "bench.enter_scope(names::zone::hopper);",
                                         "bench.play(names::sound::roll, {.bus = names::sound::roll});",
                                         "roll.set(names::dial::fill, 1);",
                                         "bench.toggle(names::sequence::finish);"};
    std::string lines;
    for (const std::string& line : wrong) lines += line + '\n';
    const Ran refused = source.compile(lines);
    CHECK(refused.status != 0);
    for (std::size_t i = 0; i < wrong.size(); ++i) {
        INFO(wrong[i]);
        const auto place = "use.cpp:" + std::to_string(Source::first_line + static_cast<int>(i)) + ":";
        const std::size_t found = refused.err.find('\n' + place);
        REQUIRE(found != std::string::npos);
        CHECK(refused.err.substr(found, refused.err.find('\n', found + 1) - found).find(" error: ") !=
              std::string::npos);
    }
}

TEST_CASE("A constant of the names header means the same as its text, also in another project", "[house]") {
    const ProjectFolder folder("[clip]\na = \"a.wav\"\nb = \"b.wav\"\n[sound.one]\ntakes = [\"a\"]\n"
                               "[sound.two]\ntakes = [\"b\"]\n");
    folder.write("a.wav", wav_bytes(noise(0.3, 400, 7)));
    folder.write("b.wav", wav_bytes(noise(0.3, 400, 8)));
    kiai::Engine engine(folder.load());
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    // Valid numbers, those of another name, and unknown ones.
    for (std::uint32_t number = 0; number < 40; ++number) engine.play(kiai::SoundName("two", number));
    engine.play(kiai::SoundName("three", 2));
    engine.play(kiai::SoundName("two", ~0u));
    float out[512];
    engine.render(out);
    engine.poll();
    const auto played = with_outcome(log, kiai::Outcome::played);
    CHECK(played.size() == 41);
    for (const kiai::Decision& one : played) CHECK(one.sound == "two");
    const auto unknown = with_outcome(log, kiai::Outcome::unknown_name);
    REQUIRE(unknown.size() == 1);
    CHECK(unknown[0].on == "three");
}

TEST_CASE("Names become identifiers that C++ takes, each its own", "[house]") {
    const ProjectFolder folder("[dial.new]\n[dial.a-b]\n[dial.a_b]\n[dial.3d]\n[dial._x]\n[dial.a--b]\n");
    const kiai::NamesHeader header = kiai::names_header(folder.path(), "game::names");
    for (const char* constant : {"new_{\"new\", 2}", "a_b{\"a-b\", 3}", "a_b_2{\"a_b\", 4}", "n3d{\"3d\", 5}",
                                 " x{\"_x\", 6}", "a_b_3{\"a--b\", 7}", "namespace game::names {"})
        CHECK(header.text.find(constant) != std::string::npos);
    INFO(header.text);
    folder.write("use.cpp", header.text);
    CHECK(run(compiler() + " -std=c++20 -Wall -Wextra -fsyntax-only -I" + source_folder() + "/include use.cpp",
              folder.path())
              .status == 0);
    folder.toml("[dial.new]\nlow = \"x\"\n");
    const kiai::NamesHeader wrong = kiai::names_header(folder.path());
    CHECK(wrong.text.empty());
    CHECK(kiai::count(wrong.findings, kiai::Severity::error) > 0);
}

TEST_CASE("A names header that is up to date is not written again", "[house]") {
    const Source source;
    const auto before = std::filesystem::last_write_time(source.path() / "names.h");
    const Ran again = kiai_tool("names '" + demo().string() + "' --out names.h", source.path());
    CHECK(again.status == 0);
    CHECK(again.err == "names.h is up to date\n");
    CHECK(std::filesystem::last_write_time(source.path() / "names.h") == before);
    source.write("mine.h", "// mine\n");
    CHECK(kiai_tool("names '" + demo().string() + "' --out mine.h", source.path()).status == 3);
    CHECK(source.read("mine.h") == "// mine\n");
    CHECK(kiai_tool("names '" + demo().string() + "' --namespace other", source.path()).out.find("namespace other {") !=
          std::string::npos);
}
