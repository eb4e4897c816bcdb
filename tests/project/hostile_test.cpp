// Hostile texts, locales and folders.
#include "support/bench.h"
#include "support/run_tool.h"

#include <kiai/trace.h>
#include <kiai/workshop/check.h>

#include <catch2/catch.hpp>

#include <clocale>
#include <cstdlib>
#include <filesystem>
#include <locale>

using namespace support;

TEST_CASE("Long lines and deep names in kiai.toml are findings", "[hostile]") {
    const std::string clip = "[clip]\na = { pending = true }\n";
    std::string dots = "a", list = "takes=[";
    for (int i = 0; i < 30000; ++i) dots += ".a";
    for (int i = 0; i < 3000; ++i) list += "\"oak-plank-knock-" + std::to_string(i) + "\", ";
    const std::string cases[] = {
        dots + " = 1\n",
        "[" + dots + "]\n",
        "a = \"" + std::string(28000, 'x') + "\n",
        clip + "[[binding]]\ntrigger={notice=\"n\"}\nwhen = \"" + std::string(60000, ' ') + "\"\naction={play=\"a\"}\n",
        clip + "[[binding]]\ntrigger={notice=\"n\"}\nwhen = \"" + std::string(60000, 'a') +
            " > 1\"\naction={play=\"a\"}\n",
        "[sound.s]\n" + list + "\n",
        "[sound.s]\nfollow = " + std::string(20000, '[') + "\n",
        "a = " + std::string(20000, '{') + "\n",
        "a = \"\"\"" + std::string(100000, '"') + "\n",
        "x = '''" + std::string(100000, '\n') + "\n",
        "[dial." + std::string(40000, 'd') + "]\n",
        "a = \"5" + std::string(50000, '5') + " ms\"\n[sound.s]\nfade-in = \"" + std::string(50000, '9') + " ms\"\n",
    };
    for (const std::string& text : cases) {
        const ProjectFolder folder(text);
        const kiai::LoadResult loaded = folder.load_with_findings();
        INFO(text.substr(0, 60));
        CHECK_FALSE(loaded.ok());
        for (const kiai::Finding& finding : loaded.findings) CHECK(to_string(finding).find('\n') == std::string::npos);
    }
}

TEST_CASE("Numbers are read and written with a point, whatever the locale", "[hostile][locale]") {
    const ProjectFolder folder(
        "[dial.fill]\n[bus.b]\ngain = \"-4.5 dB\"\n[sound.s]\ntakes = [\"tone\"]\nbus = \"b\"\nfade-in = \"2.9 s\"\n" +
        binding("watch = \"fill > 0.8\"", "play = \"s\"", "when = \"fill < 0.95\""));
    folder.write_wav("tone.wav", Signal(480, 0.1f));
    folder.toml("[clip]\ntone = \"tone.wav\"\n" + folder.read("kiai.toml").substr(11));
    const auto lines = [&] {
        kiai::Engine engine(folder.load(), {.seed = 1});
        std::string text;
        engine.set_log([&](const kiai::Decision& d) { text += describe(d) + '\n'; });
        engine.set_dial("fill", 0.9f);
        engine.play("s", {.gain = -1.25f});
        static_cast<void>(render(engine, 480));
        engine.set_dial("fill", 0.1f);
        engine.set_dial("fill", 0.97f);
        static_cast<void>(render(engine, 480));
        engine.poll();
        return text;
    };
    const std::string before = lines();
    REQUIRE(before.find("-4.50 dB") != std::string::npos);
    // Our own locale, which works on every machine: decimal commas, and points between thousands.
    struct Comma : std::numpunct<char> {
        char do_decimal_point() const override { return ','; }
        char do_thousands_sep() const override { return '.'; }
        std::string do_grouping() const override { return "\3"; }
    };
    const std::locale old = std::locale::global(std::locale(std::locale::classic(), new Comma));
    // A locale of the C library, made here from its description because few machines have it installed.
    const Folder locales;
    REQUIRE(run("localedef -i de_DE -f UTF-8 ./de_DE.UTF-8", locales.path()).status == 0);
    setenv("LOCPATH", locales.path().c_str(), 1);
    const char* const named = std::setlocale(LC_ALL, "de_DE.UTF-8");
    unsetenv("LOCPATH");
    const double parsed = std::strtod("0,5", nullptr); // by the C library alone
    const std::string after = lines();
    const std::string finding = to_string(kiai::Finding{
        kiai::FindingCode::bad_value, kiai::Severity::error, "kiai.toml", 123456, 7, "wrong", "fix", {}, {}, {}});
    kiai::Trace trace;
    trace.lines.push_back({1.5, std::nullopt, {kiai::ReportKind::dial, "fill", {}, {}, 0, {}, 0.8f}});
    const bool saved = kiai::save_trace(folder.path() / "t.jsonl", trace).empty();
    const kiai::LoadedTrace read = kiai::load_trace(folder.path() / "t.jsonl");
    std::locale::global(old);
    std::setlocale(LC_ALL, "C");
    REQUIRE(named);
    CHECK(parsed == 0.5); // so the locale was in force
    CHECK(after == before);
    CHECK(finding.find("kiai.toml:123456:7") == 0);
    REQUIRE(saved);
    REQUIRE(read.trace.lines.size() == 1);
    CHECK(read.trace.lines[0].report.value == 0.8f);
}

TEST_CASE("After a change of the current folder, streams and reloads continue", "[hostile][streams]") {
    const ProjectFolder folder("[clip]\nlong = { file = \"long.wav\", stream = true }\n");
    folder.write_wav("long.wav", Signal(48000 * 4, 0.2f));
    const auto here = std::filesystem::current_path();
    std::filesystem::current_path(folder.path().parent_path());
    const kiai::LoadResult loaded = kiai::load_project(folder.path().filename());
    std::filesystem::current_path("/");
    kiai::Engine engine(loaded.project, {.seed = 1, .synchronous_streams = true});
    engine.play("long");
    const Signal out = side(render(engine, 48000 * 4), 0);
    std::filesystem::current_path(here);
    CHECK(rms(out, 48000 * 3, 48000 * 3 + 4800) == Approx(0.2).margin(0.001));
}

TEST_CASE("Names with line breaks and control characters stay on one line", "[hostile]") {
    const ProjectFolder folder("[clip]\na = \"line\\nbreak\\u001b[31m.wav\"\n");
    const kiai::LoadResult loaded = folder.load_with_findings();
    REQUIRE_FALSE(loaded.findings.empty());
    const std::string line = to_string(loaded.findings[0]);
    CHECK(line.find('\n') == std::string::npos);
    CHECK(line.find('\x1b') == std::string::npos);
    CHECK(line.find("\\n") != std::string::npos);
}

TEST_CASE("A clip whose file is missing is kept out, not unknown", "[hostile][play]") {
    const ProjectFolder folder("[clip]\nsound-1 = \"there.wav\"\nsound-2 = \"gone.wav\"\n");
    folder.write_wav("there.wav", Signal(480, 0.1f));
    kiai::Engine engine(folder.load_with_findings().project, {.seed = 1});
    std::vector<std::string> lines;
    engine.set_log([&](const kiai::Decision& d) { lines.push_back(describe(d)); });
    engine.play("sound-2");
    engine.play("sound-3");
    static_cast<void>(render(engine, 64));
    engine.poll();
    REQUIRE(lines.size() == 2);
    CHECK(lines[0].find("has an error in kiai.toml") != std::string::npos);
    CHECK(lines[1].find("unknown sound or clip \"sound-3\"") != std::string::npos);
}

TEST_CASE("A trace that is none is a few findings, not thousands", "[hostile][trace]") {
    const ProjectFolder folder;
    std::string text;
    for (int i = 0; i < 500; ++i) text += "not a line of a trace\n";
    folder.write("t.jsonl", text);
    const kiai::LoadedTrace read = kiai::load_trace(folder.path() / "t.jsonl");
    CHECK(read.findings.size() == 6);
    CHECK(read.findings.back().message.find("495 more") != std::string::npos);
}

TEST_CASE("A project has at most 1,000 buses, with main", "[hostile]") {
    std::string text = "[clip]\na = { pending = true }\n[bus]\n";
    for (int i = 1; i < 1000; ++i) text += "b" + std::to_string(i) + " = {}\n";
    CHECK(ProjectFolder(text).load_with_findings().ok());
    for (int i = 1000; i < 40000; ++i) text += "b" + std::to_string(i) + " = {}\n";
    const kiai::LoadResult loaded = ProjectFolder(text).load_with_findings();
    CHECK_FALSE(loaded.ok());
    REQUIRE(loaded.findings.size() == 1);
    CHECK(loaded.findings[0].code == kiai::FindingCode::too_many);
    CHECK(to_string(loaded.findings[0]).find("bus \"b1000\" exceeds the maximum") != std::string::npos);
}

TEST_CASE("An entry that needs a rejected entry is left out, never bound to a different one", "[hostile]") {
    const ProjectFolder folder("[clip]\na = \"a.wav\"\n[dial.good]\n[dial.bad]\nstart = 9\nrange = [0, 1]\n"
                               "[scope.bad]\nfade = \"long\"\n"
                               "[zone.z]\ncircle = { x = 0, y = 0, r = 9 }\nscope = \"bad\"\n"
                               "[sound.s]\ntakes = [\"a\"]\n"
                               "follow = [{ dial = \"bad\", target = \"gain\", curve = [[0, -60], [1, 0]] }]\n"
                               "[[binding]]\ntrigger = { notice = \"when\" }\naction = { play = \"s\" }\n"
                               "when = \"bad < 5\"\n"
                               "[[binding]]\ntrigger = { watch = \"bad < 5\" }\naction = { play = \"s\" }\n"
                               "[[binding]]\ntrigger = { notice = \"scope\" }\naction = { play = \"s\" }\n"
                               "scope = \"bad\"\n"
                               "[[binding]]\ntrigger = { press = \"z\" }\naction = { play = \"s\" }\n");
    folder.write_wav("a.wav", sine(300, 0.5, 4800));
    const kiai::LoadResult loaded = folder.load_with_findings();
    CHECK(count(loaded.findings, kiai::Severity::error) == 2); // the dial's and the scope's, and nothing that follows
    kiai::Engine engine(loaded.project, {.seed = 1});
    engine.set_dial("good", 0.1f);
    engine.notice("when"), engine.notice("scope"), engine.press({0, 0});
    CHECK(peak(render(engine, 4800)) == 0);
    engine.set_project(loaded.project);
    const kiai::Play play = engine.play("s"); // without the follow
    CHECK(peak(render(engine, 4800)) == Approx(0.5).margin(0.01));
    CHECK(play.state() == kiai::PlayState::ended);
}
