// Each finding: its cause, its position, and its fix.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <limits>
#include <map>
#include <sstream>

using namespace support;
using kiai::FindingCode;

namespace {

/// A project with a valid clip `oak`, and `text`.
kiai::LoadResult loaded_from(const std::string& text) {
    const ProjectFolder folder("[clip]\noak = \"oak.wav\"\n" + text);
    folder.write_wav("oak.wav", Signal(100, 0.1f));
    return folder.load_with_findings();
}

struct Mistake {
    std::string text;
    FindingCode code;
    int line; ///< within `text`, from 1
    std::string says, fixes;
};

void check(const Mistake& mistake) {
    const kiai::LoadResult loaded = loaded_from(mistake.text);
    std::ostringstream all;
    for (const kiai::Finding& finding : loaded.findings) all << finding << '\n';
    INFO(mistake.text << "\n---\n" << all.str());
    REQUIRE(loaded.findings.size() == 1);
    const kiai::Finding& finding = loaded.findings[0];
    CHECK(to_string(finding.code) == std::string(to_string(mistake.code)));
    CHECK(finding.line == mistake.line + 3); // format, [clip] and oak come first
    CHECK(finding.column >= 1);
    CHECK(finding.message.find(mistake.says) != std::string::npos);
    CHECK(finding.fix.find(mistake.fixes) != std::string::npos);
}

const std::string plank = "[sound.s]\ntakes = [\"oak\"]\n";
const std::string a_binding = "[[binding]]\n";

} // namespace

TEST_CASE("Each mistake in kiai.toml is one finding, with its place, reason and fix", "[findings]") {
    const Mistake mistakes[] = {
        {"zzz = 1\n", FindingCode::wrong_type, 1, "a number, but must be a file", "path in quotes"},
        {"[sond.s]\ntakes = [\"oak\"]\n", FindingCode::unknown_key, 1, "unknown key `sond`", "did you mean `sound`?"},
        {plank + "volume = 3\n", FindingCode::unknown_key, 3, "unknown key `volume`", "did you mean `gain`?"},
        {"[sound.s]\nclips = [\"oak\"]\ntakes = [\"oak\"]\n", FindingCode::unknown_key, 2, "unknown key `clips`",
         "did you mean `takes`?"},
        {plank + "limit = { max = 3 }\n", FindingCode::unknown_key, 3, "unknown key `max`", "did you mean `plays`?"},
        {a_binding + "trigger = { click = \"z\" }\naction = { play = \"oak\" }\n", FindingCode::unknown_key, 2,
         "unknown key `click`", "did you mean `press`?"},
        {"[sound.s]\ntake = [\"oak\"]\ntakes = [\"oak\"]\n", FindingCode::unknown_key, 2, "unknown key `take`",
         "did you mean `takes`?"},
        {"[sound.s]\ngain = 1\n", FindingCode::missing_key, 1, "missing key `takes`", "takes = "},
        {"[sound.s]\ntakes = [\"Oak\"]\n", FindingCode::unknown_name, 2, "unknown clip \"Oak\"",
         "did you mean \"oak\"?"},
        {"[sound.s]\ntakes = [\"oak.wav\"]\n", FindingCode::unknown_name, 2, "unknown clip \"oak.wav\"",
         "did you mean \"oak\"?"},
        {"[sound.s]\ntakes = \"oak\"\n", FindingCode::wrong_type, 2, "missing clips", "list"},
        {"[sound.s]\ntakes = { series = \"ash\" }\n", FindingCode::empty_series, 2, "\"ash-1\"", "register"},
        {"[sound.\"My Sound\"]\ntakes = [\"oak\"]\n", FindingCode::bad_name, 1, "\"My Sound\"", "a-z"},
        {plank + "gain = 75\n", FindingCode::bad_value, 3, "not a gain in dB",
         "if 75 per cent was meant, write \"75 %\", which is -2.5 dB; gain takes -120 to 24 dB"},
        {plank + "gain = \"loud\"\n", FindingCode::wrong_type, 3, "takes a number, not \"loud\"",
         "\"-6 dB\" or \"50 %\""},
        {plank + "pitch = 200\n", FindingCode::bad_value, 3, "out of range", "-48 to 48 semitones"},
        {plank + "loop = 1\n", FindingCode::wrong_type, 3, "takes true, false or a table", "loop = true"},
        {plank + "fade-out = 10\n", FindingCode::bad_value, 3, "time with its unit", "\"12 ms\""},
        {plank + "fade-out = \"10\"\n", FindingCode::bad_value, 3, "time with its unit", "\"12 ms\""},
        {plank + "fade-out = \"5000 s\"\n", FindingCode::bad_value, 3, "too long", "at most"},
        {plank + "pick = \"random\"\n", FindingCode::bad_value, 3, "\"random\"", "shuffle, weighted, cycle"},
        {plank + "delay = \"2 min\"\n", FindingCode::bad_value, 3, "time with its unit", "\"12 ms\""},
        {plank + "chance = 50\n", FindingCode::bad_value, 3, "`chance = 50`", "0 to 1"},
        {plank + "vary = { delay = 5 }\n", FindingCode::bad_value, 3, "takes a time, or two", "[\"5 ms\", \"20 ms\"]"},
        {plank + "vary = { delay = [\"5 ms\", \"9 frames\"] }\n", FindingCode::bad_value, 3, "in ms or s",
         "at most 10 s"},
        {plank + "vary = { pan = 2 }\n", FindingCode::bad_value, 3, "`pan = 2`", "0 to 1"},
        {plank + "vary = { pitch = 1, distribution = \"gauss\" }\n", FindingCode::bad_value, 3, "gauss", "even, bell"},
        {"[sound.s]\ntakes = [{ clip = \"oak\", weight = 0 }]\n", FindingCode::bad_value, 2, "`weight = 0`",
         "0.001 to 1000"},
        {"[sound.s]\ntakes = [{ weight = 2 }]\n", FindingCode::missing_key, 2, "missing key `clip`", "weight = 3"},
        {"[sound.s]\ntakes = [{ clip = \"Oak\" }]\n", FindingCode::unknown_name, 2, "unknown clip \"Oak\"",
         "did you mean \"oak\"?"},
        {plank + "limit = { plays = 0 }\n", FindingCode::bad_value, 3, "`plays = 0`", "from 1 to 1000"},
        {plank + "limit = { plays = 1.5 }\n", FindingCode::bad_value, 3, "`plays = 1.5`", "whole number"},
        {plank + "limit = { full = \"end-oldst\" }\n", FindingCode::bad_value, 3, "end-oldst",
         "end-oldest, end-quietest, refuse"},
        {plank + "vary = { pitch = [1, 2, 3] }\n", FindingCode::bad_value, 3, "one number or two", "[from, to]"},
        {plank + "vary = { ptich = 1 }\n", FindingCode::unknown_key, 3, "`ptich`", "did you mean `pitch`?"},
        {plank + "follow = [{ value = \"strength\", target = \"gain\", curve = [[1, 0], [0, 1]] }]\n",
         FindingCode::bad_value, 3, "do not ascend", "order them"},
        {plank + "follow = [{ value = \"strength\", target = \"gain\", curve = [[1, 0]] }]\n", FindingCode::bad_value,
         3, "fewer than two", "curve = "},
        {plank + "follow = [{ value = \"speed\", target = \"gian\", curve = [[0, 0], [1, 1]] }]\n",
         FindingCode::bad_value, 3, "\"gian\"", "gain, pitch, pan, low-pass, high-pass, balance"},
        {plank + "follow = [{ dial = \"fil\", target = \"gain\", curve = [[0, 0], [1, 1]] }]\n[dial.fill]\n",
         FindingCode::unknown_name, 3, "unknown dial \"fil\"", "did you mean \"fill\"?"},
        {plank + "follow = [{ value = \"fill\", target = \"gain\", curve = [[0, 0], [1, 1]] }]\n[dial.fill]\n",
         FindingCode::bad_value, 3, "\"fill\" is a dial", "dial = \"fill\""},
        {plank + "follow = [{ target = \"gain\", curve = [[0, 0], [1, 1]] }]\n", FindingCode::missing_key, 3,
         "neither `dial` nor `value`", "give one"},
        {plank + "follow = [{ value = \"speed\", target = \"balance\", curve = [[0, 0], [1, 2]] }]\n",
         FindingCode::bad_value, 3, "out of range", "0 to 1"},
        {"[[sound.s.layer]]\ntakes = [\"oak\"]\nfollow = [{ value = \"speed\", target = \"balance\", curve = [[0, 0], "
         "[1, "
         "1]] }]\n",
         FindingCode::bad_value, 3, "no balance", "in the sound"},
        {plank + "lfo = [{ target = \"pitch\", rate = 5 }]\n", FindingCode::missing_key, 3, "missing key `depth`",
         "lfo = "},
        {plank + "lfo = [{ target = \"pitch\", rate = 5, depth = 40 }]\n", FindingCode::bad_value, 3, "`depth = 40`",
         "0 to 24 semitones"},
        {plank + "lfo = [{ target = \"pan\", rate = 5, depth = 2 }]\n", FindingCode::bad_value, 3, "`depth = 2`",
         "0 to 1 of pan"},
        {plank + "loop = { from = \"2 s\", to = \"3 s\" }\n", FindingCode::loop_outside, 3,
         "before the end of the loop", "into the clip"},
        {plank + "loop = { points = \"file\" }\n", FindingCode::no_loop_points, 3, "has no loop", "from and to"},
        {plank + "loop = { points = \"file\", from = \"1 ms\" }\n", FindingCode::bad_value, 3, "both `points` and",
         "remove `points`"},
        {plank + "bus = \"peices\"\n[bus.pieces]\n", FindingCode::unknown_name, 3, "unknown bus \"peices\"",
         "did you mean \"pieces\"?"},
        {"[bus.a]\ninto = \"b\"\n[bus.b]\ninto = \"a\"\n", FindingCode::bus_circle, 1, "form a circle", "main"},
        {"[bus.main]\ninto = \"main\"\n", FindingCode::bad_value, 2, "no parent", "remove `into`"},
        {"[dial.fill]\nrange = [1, 0]\n", FindingCode::bad_value, 2, "minimum and a maximum", "[0, 1]"},
        {"[dial.fill]\nstart = 2\n", FindingCode::bad_value, 1, "out of its range", "0 to 1"},
        {plank + "priority = 101\n", FindingCode::bad_value, 3, "`priority = 101`", "-100 to 100"},
        {plank + "gain = \"5 st\"\n", FindingCode::wrong_type, 3, "not \"5 st\"", "\"50 %\""},
        {plank + "chance = 30\n", FindingCode::bad_value, 3, "`chance = 30`", "write \"30 %\""},
        {"[zone.z]\norder = 1\n", FindingCode::missing_key, 1, "no shape", "circle = "},
        {"[zone.z]\ncircle = { x = 1, y = 2 }\n", FindingCode::missing_key, 2, "missing key `r`", "all numbers"},
        {"[zone.z]\ncircle = { x = 1, y = 2, r = -3 }\n", FindingCode::bad_value, 2, "`r = -3`", "r takes"},
        {"[zone.z]\ncircle = { x = 1, y = 2, r = 3 }\nrectangle = { x = 1, y = 2, width = 3, height = 3 }\n",
         FindingCode::missing_key, 1, "several shapes", "give one"},
        {a_binding + "action = { play = \"oak\" }\n", FindingCode::missing_key, 1, "missing key `trigger`",
         "trigger = "},
        {a_binding + "trigger = { notice = \"n\" }\n", FindingCode::missing_key, 1, "missing key `action`",
         "action = "},
        {a_binding + "trigger = { notice = \"n\" }\naction = []\n", FindingCode::missing_key, 3,
         "list of actions is empty", "action = "},
        {a_binding + "trigger = { notice = \"n\" }\naction = { play = \"oka\" }\n", FindingCode::unknown_name, 3,
         "\"oka\"", "did you mean \"oak\"?"},
        {a_binding + "trigger = { notice = \"n\" }\naction = { paly = \"oak\" }\n", FindingCode::unknown_key, 3,
         "`paly`", "did you mean `play`?"},
        {a_binding + "trigger = { notice = \"n\" }\naction = { play = \"oak\", stop = \"oak\" }\n",
         FindingCode::missing_key, 3, "several actions", "list"},
        {a_binding + "trigger = { press = \"nowhere\" }\naction = { play = \"oak\" }\n", FindingCode::unknown_name, 2,
         "unknown zone \"nowhere\"", "add it"},
        {a_binding + "trigger = { key-down = \"T\" }\naction = { play = \"oak\" }\n", FindingCode::unknown_key_code, 2,
         "\"T\"", "did you mean \"KeyT\"?"},
        {a_binding + "trigger = { key-down = \"space\" }\naction = { play = \"oak\" }\n", FindingCode::unknown_key_code,
         2, "\"space\"", "did you mean \"Space\"?"},
        {a_binding + "trigger = { contact = \"oak\" }\naction = { play = \"oak\" }\n", FindingCode::bad_value, 2,
         "two kinds", "contact = ["},
        {a_binding + "trigger = { notice = \"a\", key-down = \"Space\" }\naction = { play = \"oak\" }\n",
         FindingCode::missing_key, 2, "several triggers", "give one of"},
        {a_binding + "trigger = { notice = \"Not A Name\" }\naction = { play = \"oak\" }\n", FindingCode::bad_name, 2,
         "\"Not A Name\"", "a-z"},
    };
    for (const Mistake& mistake : mistakes) check(mistake);
}

TEST_CASE("All findings are reported at once, and the sound rest plays", "[findings]") {
    const kiai::LoadResult loaded = loaded_from(
        "[sound.bad]\ntakes = [\"ash\"]\n[sound.good]\ntakes = [\"oak\"]\n[[binding]]\ntrigger = { notice = \"n\" "
        "}\naction = { play = \"bad\" }\n"
        "[[binding]]\ntrigger = { notice = \"n\" }\naction = { play = \"good\" }\n[zone.z]\n");
    CHECK(loaded.findings.size() == 2); // the clip, the shape; what depends on an excluded sound is not reported again
    CHECK_FALSE(loaded.ok());
    kiai::Engine engine(loaded.project, {.seed = 1});
    engine.notice("n");
    CHECK(peak(render(engine, 200)) == 0.1f);
}

TEST_CASE("Innocent neighbours of mistakes have no findings", "[findings]") {
    const kiai::LoadResult loaded = loaded_from(
        "[sound.s]\ntakes = [\"oak\"]\ngain = 24\npitch = -48\npan = 1\nloop = true\nfade-out = \"0 ms\"\npick = "
        "\"shuffle\"\n"
        "vary = { pitch = [-1, 2.5], gain = 0 }\nlimit = { plays = 1000, gap = \"0.5 s\", full = \"refuse\" }\n"
        "follow = [{ value = \"place\", target = \"pan\", curve = [[-1, -1], [0, 0], [1, 1]] }]\n"
        "[zone.z-1_a]\nrectangle = { x = -1e3, y = 2, width = 0.5, height = 1 }\norder = -5\n"
        "[[binding]]\ntrigger = { key-down = \"F12\" }\naction = [{ play = \"s\" }, { stop = \"oak\" }]\n");
    for (const kiai::Finding& finding : loaded.findings) {
        std::ostringstream line;
        line << finding;
        FAIL_CHECK(line.str());
    }
}

TEST_CASE("A sound of a name hides the clip of that name", "[findings]") {
    kiai::Engine engine(loaded_from("[sound.oak]\ntakes = [\"oak\"]\ngain = -20\n").project, {.seed = 1});
    engine.play("oak");
    CHECK(peak(render(engine, 200)) == Approx(0.01));
}

TEST_CASE("A series is found by its numbers, from 0 or 1, and its gaps are named", "[findings]") {
    const auto series = [](const std::string& names) {
        std::string text = "[clip]\n";
        std::istringstream list(names);
        for (std::string name; list >> name;) text += name + " = \"t.wav\"\n";
        const ProjectFolder folder(text + "[sound.s]\ntakes = { series = \"t\" }\n");
        folder.write_wav("t.wav", Signal(1, 0.1f));
        return folder.load_with_findings();
    };
    const auto takes = [](const kiai::LoadResult& loaded) {
        return with_outcome(kiai::hear(loaded.project, "s").decisions, kiai::Outcome::played).at(0).layers.at(0).of;
    };
    CHECK(series("t-1 t-2 t-3").findings.empty());
    CHECK(takes(series("t-0 t-1 t-2")) == 3);
    CHECK(takes(series("t-01 t-02 t-10 t-03 t-04 t-05 t-06 t-07 t-08 t-09")) == 10);
    CHECK(takes(series("t-1 t-2 t-x t-2-a tt-3 t")) == 2);
    const kiai::LoadResult gaps = series("t-1 t-2 t-5");
    REQUIRE(gaps.findings.size() == 2);
    CHECK(gaps.findings[0].code == FindingCode::series_gap);
    CHECK(gaps.findings[0].severity == kiai::Severity::warning);
    CHECK(gaps.findings[0].message.find("\"t-3\"") != std::string::npos);
    CHECK(gaps.findings[1].message.find("\"t-4\"") != std::string::npos);
    CHECK(takes(gaps) == 3);
    CHECK(series("t-3 t-4").findings.size() == 2); // 1 and 2
}

TEST_CASE("A file that cannot be used is a finding, and the rest loads", "[findings]") {
    const ProjectFolder folder("[clip]\ngood = \"good.wav\"\nmissing = \"Good.WAV\"\nextension = \"good.flac\"\ntext = "
                               "\"text.wav\"\nempty = \"empty.wav\"\nnan = \"nan.wav\"\n"
                               "wide = \"wide.wav\"\noutside = \"../outside.wav\"\nabsolute = \"/etc/hostname\"\nlink "
                               "= \"link/secret.wav\"\ncut = \"cut.wav\"\nnothing = \"nothing.wav\"\n");
    folder.write_wav("good.wav", Signal(100, 0.1f));
    folder.write("text.wav", "this is not a sound file at all, though it is named like one");
    folder.write("nothing.wav", "");
    folder.write_wav("empty.wav", {});
    Signal bad(2 * 5000, 0.1f);
    bad[2 * 10] = 2000; // not an error
    bad[2 * 4242 + 1] = std::numeric_limits<float>::quiet_NaN();
    folder.write_wav("nan.wav", bad, 48000, 2);
    folder.write_wav("wide.wav", Signal(900, 0.1f), 48000, 9);
    const Folder elsewhere;
    elsewhere.write_wav("secret.wav", Signal(100, 0.1f));
    std::filesystem::create_directory_symlink(elsewhere.path(), folder.path() / "link");
    folder.write_wav("whole.wav", Signal(1000, 0.1f));
    folder.write("cut.wav", folder.read("whole.wav").substr(0, 30));

    const kiai::LoadResult loaded = folder.load_with_findings();
    std::map<std::string, const kiai::Finding*> by_clip;
    for (const kiai::Finding& finding : loaded.findings)
        by_clip[finding.message.substr(6, finding.message.find('"', 6) - 6)] = &finding;
    const auto expect = [&](const std::string& clip, FindingCode code, const std::string& fixes) {
        INFO(clip);
        REQUIRE(by_clip.contains(clip));
        CHECK(to_string(by_clip[clip]->code) == std::string(to_string(code)));
        CHECK((by_clip[clip]->message + by_clip[clip]->fix).find(fixes) != std::string::npos);
    };
    CHECK(loaded.findings.size() == 11);
    expect("missing", FindingCode::file_missing, "\"good.wav\" (different letter case)");
    expect("extension", FindingCode::file_missing, "\"good.wav\" (different extension)");
    expect("text", FindingCode::file_unreadable, "is a text file, which Kiai cannot read");
    expect("nothing", FindingCode::file_empty, "is empty");
    expect("empty", FindingCode::file_empty, "no frames");
    expect("nan", FindingCode::file_not_finite, "at frame 4242");
    expect("wide", FindingCode::file_channels, "9 channels");
    expect("outside", FindingCode::file_outside, "into the project");
    expect("absolute", FindingCode::file_outside, "into the project");
    expect("link", FindingCode::file_outside, "into the project");
    expect("cut", FindingCode::file_unreadable, "export it again");
    CHECK(kiai::hear(loaded.project, "good").length == 100);
}

TEST_CASE("A clip of one frame plays", "[findings]") {
    CHECK(kiai::hear(project_of(Signal(1, 0.25f)), "tone").samples == std::vector<float>{0.25f, 0.25f});
}

TEST_CASE("A project that is missing, not readable, or of another format says so", "[findings]") {
    const Folder folder;
    const std::filesystem::path nowhere = folder.path() / "nowhere";
    CHECK(kiai::load_project(nowhere).findings.at(0).message == "missing folder \"" + nowhere.string() + "\"");
    CHECK(kiai::load_project(folder.path()).findings.at(0).code == FindingCode::no_project);
    folder.write("kiai.toml", "format = 99\n");
    CHECK(kiai::load_project(folder.path()).findings.at(0).code == FindingCode::unknown_format);
    folder.write("kiai.toml", "name = \"x\"\n");
    CHECK(kiai::load_project(folder.path()).findings.at(0).severity == kiai::Severity::warning);
    folder.write("kiai.toml", "\xef\xbb\xbf"
                              "format = 1\r\nname = \"with a mark and Windows lines\"\r\n");
    CHECK(kiai::load_project(folder.path()).findings.empty());
    CHECK(kiai::load_project(folder.path()).project.name() == "with a mark and Windows lines");
}
