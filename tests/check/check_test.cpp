// The findings of `check_project`: for each a project that causes it, and the nearest valid one.
#include "support/looped_files.h"
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <set>

using namespace support;
using kiai::FindingCode;

namespace {

const std::string credit = "[credit.\".\"]\nlicence = \"CC0-1.0\"\n";
const std::string bound = "[[binding]]\ntrigger = { notice = \"n\" }\naction = { play = \"tone\" }\n";

/// A second of a tone that starts and ends at 0, at a low level.
Signal tone(double amplitude = 0.1, double frequency = 440) {
    return sine(frequency, amplitude, 48000);
}

Signal joined(Signal first, const Signal& second) {
    first.insert(first.end(), second.begin(), second.end());
    return first;
}

std::vector<std::string> codes_in(const ProjectFolder& folder) {
    std::vector<std::string> codes;
    for (const kiai::Finding& finding : kiai::check_project(folder.path()).findings)
        codes.push_back(to_string(finding.code));
    return codes;
}

/// Returns the findings about one clip of these samples, used and credited.
std::vector<std::string> codes_of(const Signal& samples, const std::string& more = bound, int channels = 1) {
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\n" + credit + more);
    folder.write_wav("tone.wav", samples, 48000, channels);
    return codes_in(folder);
}

using Codes = std::vector<std::string>;

} // namespace

TEST_CASE("A clip without fault, used and credited, has no findings", "[check]") {
    CHECK(codes_of(tone()).empty());
    CHECK(codes_of(joined(tone(), tone()), bound, 2).empty());
    CHECK(codes_of(Signal(1, 0.5f)).empty());
}

TEST_CASE("Clipping is found from three samples at full scale on", "[check]") {
    Signal samples = tone(0.1);
    for (std::size_t i = 1000; i < 1003; ++i) samples[i] = 1.0f;
    CHECK(codes_of(samples) == Codes{"clip-clipped"});
    samples[1002] = -1.0f; // two up and one down are a wave, no clipping
    const auto clipped = [&] {
        const Codes codes =
            codes_of(samples); // such a spike is too loud between its samples, but that is another matter
        return std::count(codes.begin(), codes.end(), "clip-clipped");
    };
    CHECK(clipped() == 0);
    samples[1002] = 0.9f;
    CHECK(clipped() == 0);
}

TEST_CASE("An offset is found above 0.01, and not in what is too short to tell", "[check]") {
    Signal samples = tone();
    for (float& sample : samples) sample += 0.011f;
    CHECK(codes_of(samples) == Codes{"dc-offset"});
    for (float& sample : samples) sample -= 0.002f;
    CHECK(codes_of(samples).empty());
    CHECK(codes_of(Signal(2000, 0.1f)).empty()); // 42 ms
}

TEST_CASE("A late start is found beyond 10 ms, with how late it is", "[check]") {
    CHECK(codes_of(joined(Signal(478, 0), tone())).empty());
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\n" + credit + bound);
    folder.write_wav("tone.wav", joined(Signal(24000, 0), tone()));
    const auto findings = kiai::check_project(folder.path()).findings;
    REQUIRE(findings.size() == 1);
    CHECK(findings[0].code == FindingCode::leading_silence);
    CHECK(findings[0].message.find("starts with 500 ms of silence") != std::string::npos);
    CHECK(findings[0].fix.find("start = \"499 ms\"") !=
          std::string::npos); // frames, the sine's first near 0 among them
    CHECK(findings[0].entry == "tone");
}

TEST_CASE("Too loud is above -9 LUFS or +1 dBTP", "[check]") {
    CHECK(codes_of(tone(0.33, 997)).empty());                   // -9.6 LUFS on both sides
    CHECK(codes_of(tone(0.37, 997)) == Codes{"clip-too-loud"}); // -8.6
    Signal spike = tone(0.05);
    spike[20000] = 1.06f; // +0.5 dB, and 1 dB is not reached between the samples
    CHECK(codes_of(spike).empty());
    spike[20000] = 1.3f;
    CHECK(codes_of(spike) == Codes{"clip-too-loud"});
}

TEST_CASE("A clip in which nothing can be heard", "[check]") {
    CHECK(codes_of(Signal(48000, 0)) == Codes{"clip-silent"});
    CHECK(codes_of(tone(0.00009)) == Codes{"clip-silent"});
    CHECK(codes_of(tone(0.00012)).empty());
}

TEST_CASE("A take that is far louder or quieter than those beside it", "[check]") {
    const auto of = [](double db_off, const std::string& gain) {
        const ProjectFolder folder("[clip]\nt-1 = \"1.wav\"\nt-2 = \"2.wav\"\nt-3 = { file = \"3.wav\"" + gain +
                                   " }\n" + credit + "[sound.tone]\ntakes = { series = \"t\" }\n" + bound);
        folder.write_wav("1.wav", tone(0.05, 440));
        folder.write_wav("2.wav", tone(0.05, 441));
        folder.write_wav("3.wav", tone(0.05 * std::pow(10, db_off / 20), 442));
        return codes_in(folder);
    };
    CHECK(of(7, "") == Codes{"take-level"});
    CHECK(of(-7, "") == Codes{"take-level"});
    CHECK(of(5, "").empty());
    CHECK(of(7, ", gain = -6").empty()); // evened out by its gain
}

TEST_CASE("A loop that clicks where it begins again", "[check]") {
    const std::string loop = "[sound.tone]\ntakes = [\"tone\"]\nloop = true\n" + bound +
                             "[[binding]]\ntrigger = { notice = \"m\" }\naction = { stop = \"tone\" }\n";
    CHECK(codes_of(tone(0.2, 440), loop).empty());
    CHECK(codes_of(sine(440.25, 0.2, 48000), loop) == Codes{"loop-clicks"});
    CHECK(codes_of(sine(440.25, 0.2, 48000)).empty()); // it is not looped
    CHECK(codes_of(noise(0.2, 48000, 1), loop).empty());
}

TEST_CASE("The loop points that a file holds are read, and tried", "[check]") {
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\n" + credit + bound);
    const Signal samples = sine(440, 0.2, 48000);
    folder.write("tone.wav", wav_with_loop(samples, 12000, 23999));
    const auto facts = kiai::read_facts(folder.path() / "tone.wav").facts;
    REQUIRE(facts);
    REQUIRE(facts->loops.size() == 1);
    CHECK(facts->loops[0].begin == 12000);
    CHECK(facts->loops[0].end == 24000);
    CHECK(codes_in(folder).empty());
    folder.write("tone.wav", wav_with_loop(samples, 12000, 24027)); // a quarter of a turn more
    CHECK(codes_in(folder) == Codes{"loop-clicks"});
}

TEST_CASE("The loop between two markers of an AIFF is read, and shown", "[check]") {
    const ProjectFolder folder("[clip]\ntone = \"tone.aiff\"\n" + credit + bound);
    folder.write("tone.aiff", aiff_with_loop(sine(440, 0.2, 48000), 12000, 24000));
    const kiai::EntryDetails shown = kiai::show_entry(folder.path(), "tone", 100);
    REQUIRE(shown.clips.size() == 1);
    const kiai::Facts& facts = shown.clips[0].facts;
    CHECK(facts.frames == 48000);
    REQUIRE(facts.loops.size() == 1);
    CHECK(facts.loops[0].begin == 12000);
    CHECK(facts.loops[0].end == 24000);
    CHECK(codes_in(folder).empty());
    const Ran printed = kiai_tool("show tone", folder.path());
    CHECK(printed.out.find("loop      frames 12000 to 24000, step at its seam none") != std::string::npos);
    CHECK(printed.out.find("     loop                          [-----------------------]") != std::string::npos);
    folder.write("tone.aiff", aiff_with_loop(sine(440, 0.2, 48000), 12000, 24027));
    CHECK(codes_in(folder) == Codes{"loop-clicks"});
}

TEST_CASE("Unused clips, unbound sounds, idle zones are noted", "[check]") {
    const std::string idle = "[sound.lonely]\ntakes = [\"tone\"]\n[zone.z]\ncircle = { x = 0, y = 0, r = 1 }\n";
    CHECK(codes_of(tone(), idle) == Codes{"unbound-sound", "idle-zone"});
    CHECK(codes_of(tone(), "") == Codes{"unused-clip"});
    CHECK(
        codes_of(tone(), idle + "[[binding]]\ntrigger = { press = \"z\" }\naction = { play = \"lonely\" }\n").empty());
}

TEST_CASE("A pending entry is logged as such, and ticks if the app asks for it", "[check]") {
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\nlater = { pending = true }\n[sound.soon]\npending = true\n"
                               "[sound.of-later]\ntakes = [\"later\"]\n[[binding]]\ntrigger = { notice = \"n\" }\n"
                               "action = [{ play = \"soon\" }, { play = \"later\" }, { play = \"of-later\" }]\n");
    folder.write_wav("tone.wav", tone());
    for (const bool placeholder : {false, true}) {
        const kiai::LoadResult loaded = kiai::load_project(folder.path(), {.placeholder = placeholder});
        CHECK(loaded.ok());
        kiai::Engine engine(loaded.project, {.seed = 1});
        std::vector<kiai::Decision> log;
        engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
        engine.notice("n");
        const float loudest = static_cast<float>(peak(render(engine, 4800)));
        engine.poll();
        CHECK(with_outcome(log, kiai::Outcome::pending).size() == (placeholder ? 0u : 3u));
        CHECK(with_outcome(log, kiai::Outcome::played).size() == (placeholder ? 3u : 0u));
        CHECK((loudest > 0.3f) == placeholder); // three ticks of -18 dBFS at once
        CHECK((loudest < 0.4f));
    }
}

TEST_CASE("A pending name may be used before there is anything to play", "[check]") {
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\nlater = { pending = true }\n" + credit +
                               "[sound.soon]\npending = true\n[sound.both]\ntakes = [\"tone\", "
                               "\"later\"]\n[[binding]]\ntrigger = { notice = \"n\" }\n"
                               "action = [{ play = \"both\" }, { play = \"soon\" }, { play = \"later\" }]\n");
    folder.write_wav("tone.wav", tone());
    CHECK(folder.load_with_findings().findings.empty());
    CHECK(codes_in(folder) == Codes{"pending-entry", "pending-entry"});
    kiai::Engine engine(folder.load(), {.seed = 1});
    engine.notice("n");
    CHECK(peak(render(engine, 4800)) > 0.05); // what there is plays
    const auto pending = kiai::catalogue(folder.path(), {.state = "pending"}).entries;
    REQUIRE(pending.size() == 2);
    CHECK(pending[0].name == "later");
    CHECK(pending[1].name == "soon");
    folder.toml("[clip]\nlater = { pending = false }\n");
    CHECK(codes_in(folder) == Codes{"missing-key"});
}

TEST_CASE("Two names for one content, and a file that no clip names", "[check]") {
    const ProjectFolder folder(
        "[clip]\ntone = \"a.wav\"\nagain = \"b.wav\"\n" + credit +
        "[[binding]]\ntrigger = { notice = \"n\" }\naction = [{ play = \"tone\" }, { play = \"again\" }]\n");
    folder.write_wav("a.wav", tone(0.1, 440));
    folder.write_wav("b.wav", tone(0.1, 440));
    CHECK(codes_in(folder) == Codes{"same-content"});
    folder.write_wav("b.wav", tone(0.1, 441));
    CHECK(codes_in(folder).empty());
    folder.write_wav("deep/er/c.wav", tone(0.1, 442));
    folder.write("readme.txt", "no audio");
    folder.write(".hidden/d.wav", "");
    const auto findings = kiai::check_project(folder.path()).findings;
    REQUIRE(findings.size() == 1);
    CHECK(findings[0].code == FindingCode::unregistered_file);
    CHECK(findings[0].message.find("\"deep/er/c.wav\"") != std::string::npos);
}

TEST_CASE("Who made it, and how it may be used", "[check]") {
    const auto of = [](const std::string& keys) {
        const ProjectFolder folder("[clip]\ntone = { file = \"tone.wav\"" + keys + " }\n" + bound);
        folder.write_wav("tone.wav", tone());
        return codes_in(folder);
    };
    CHECK(of("") == Codes{"no-credit"});
    CHECK(of(", author = \"A. Turner\"") == Codes{"no-credit"});
    CHECK(of(", licence = \"CC0-1.0\"").empty());
    CHECK(of(", licence = \"CC0\"") == Codes{"unknown-licence"});
    CHECK(of(", licence = \"cc-by-4.0\"") == Codes{"unknown-licence"});
    CHECK(of(", licence = \"CC-BY-4.0\"") == Codes{"no-author"});
    CHECK(of(", licence = \"CC-BY-4.0\", author = \"A. Turner\"").empty());
    CHECK(of(", licence = \"CC-BY-4.0 OR CC0-1.0\"").empty());
    CHECK(of(", licence = \"(CC-BY-4.0 AND CC0-1.0)\"") == Codes{"no-author"});
    CHECK(of(", licence = \"LicenseRef-our-contract\"").empty());
    CHECK(of(", licence = \"GPL-2.0-only WITH Classpath-exception-2.0\", author = \"A\"").empty());
}

TEST_CASE("A folder's credit counts for everything in it, and the nearest wins", "[check]") {
    const ProjectFolder folder(
        "[clip]\na = \"x/a.wav\"\nb = \"x/y/b.wav\"\nc = { file = \"x/y/c.wav\", author = \"own\" }\n"
        "[credit.x]\nauthor = \"far\"\nlicence = \"MIT\"\nsource = \"there\"\n[credit.\"x/y\"]\nauthor = \"near\"\n"
        "[[binding]]\ntrigger = { notice = \"n\" }\naction = [{ play = \"a\" }, { play = \"b\" }, { play = \"c\" }]\n");
    for (const char* name : {"x/a.wav", "x/y/b.wav", "x/y/c.wav"}) folder.write_wav(name, tone(0.1, 400 + name[2]));
    CHECK(codes_in(folder) == Codes{"same-content"}); // b and c are of one pitch
    const kiai::Credits credits = kiai::gather_credits(folder.path());
    REQUIRE(credits.groups.size() == 3);
    CHECK(credits.groups[0].author == "far");
    CHECK(credits.groups[1].author == "near");
    CHECK(credits.groups[2].author == "own");
    CHECK(credits.groups[2].licence == "MIT");
    CHECK(credits.groups[2].sources == Codes{"there"});
    folder.toml("[clip]\ntone = \"x/a.wav\"\n[credit.z]\nlicence = \"MIT\"\n[credit.x]\nlicence = \"CC0-1.0\"\n" +
                bound);
    const Codes codes = codes_in(folder);
    CHECK(std::count(codes.begin(), codes.end(), "unknown-folder") == 1);
}

TEST_CASE("A finding that is accepted with a reason does not count, an idle acceptance is noted", "[check]") {
    const std::string accepted =
        "[[accepted]]\nfinding = \"unused-clip\"\non = \"tone\"\nreason = \"for the next level\"\n";
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\n" + credit + accepted);
    folder.write_wav("tone.wav", tone());
    const auto findings = kiai::check_project(folder.path()).findings;
    REQUIRE(findings.size() == 1);
    CHECK(findings[0].accepted == "for the next level");
    CHECK(count(findings, kiai::Severity::note) == 0);
    CHECK(codes_of(tone(), accepted + bound) == Codes{"unused-acceptance"});
    CHECK(codes_of(tone(), "[[accepted]]\nfinding = \"unused-clip\"\n" + bound) == Codes{"missing-key"});
    CHECK(codes_of(tone(), "[[accepted]]\nfinding = \"unused-clp\"\nreason = \"x\"\n" + bound) == Codes{"bad-value"});
    // An error cannot be accepted.
    const ProjectFolder broken(
        "[clip]\ntone = \"nowhere.wav\"\n[[accepted]]\nfinding = \"file-missing\"\nreason = \"later\"\n");
    CHECK(kiai::check_project(broken.path()).findings.at(0).accepted.empty());
    CHECK_FALSE(broken.load_with_findings().ok());
}

TEST_CASE("A file outside of the project is an error, or a risk that is said", "[check]") {
    const Folder elsewhere;
    elsewhere.write_wav("tone.wav", tone());
    const std::string path = (elsewhere.path() / "tone.wav").string();
    const ProjectFolder folder("[clip]\ntone = { file = \"" + path + "\", licence = \"CC0-1.0\" }\n" + bound);
    CHECK(codes_in(folder) == Codes{"file-outside"});
    folder.toml("[clip]\ntone = { file = \"" + path + "\", licence = \"CC0-1.0\", outside = true }\n" + bound);
    const auto findings = kiai::check_project(folder.path()).findings;
    REQUIRE(findings.size() == 1);
    CHECK(findings[0].severity == kiai::Severity::warning);
    CHECK(kiai::load_project(folder.path()).ok());
    CHECK_FALSE(kiai::load_project(folder.path(), {.outside = false}).ok());
}

TEST_CASE("Every kind of finding has a name of its own and an explanation, and the page of them is current",
          "[check][slow]") {
    std::vector<std::string> names;
    for (const FindingCode code : kiai::all_finding_codes()) {
        names.emplace_back(to_string(code));
        CHECK(std::string(explain(code)).size() > 20);
    }
    CHECK(names.size() >= 67); // none is ever taken away
    std::sort(names.begin(), names.end());
    CHECK(std::adjacent_find(names.begin(), names.end()) == names.end());
    const Ran listed =
        run("KIAI_BIN=\"$(dirname '" + tested_tool() + "')\" '" + source_folder() + "/scripts/list-findings'");
    REQUIRE(listed.status == 0);
    CHECK(listed.out == text_of(std::filesystem::path(source_folder()) / "docs" / "findings.md"));
    // No command can show these, because they need an app, another user or a full disk. A sentence describes them.
    const std::set<std::string> described = {"no-project",     "permission-denied", "not-editable", "not-written",
                                             "load-cancelled", "callback-threw",    "no-device"};
    for (const std::string& name : names) {
        INFO(name);
        const std::size_t begin = listed.out.find("## `" + name + "`\n");
        REQUIRE(begin != std::string::npos);
        const std::string section = listed.out.substr(begin, listed.out.find("\n## ", begin) - begin);
        if (described.count(name) == 0)
            CHECK(section.find(" [" + name + "]") != std::string::npos);
        else
            CHECK(std::count(section.begin(), section.end(), '\n') > 4);
    }
}

TEST_CASE("A series of one and a shuffle of two are said once, three takes and one chosen by name are not", "[check]") {
    const auto found = [](const std::string& takes, int clips) {
        std::string text = "[clip]\n";
        const ProjectFolder folder;
        for (int i = 1; i <= clips; ++i) {
            text += "tone-" + std::to_string(i) + " = \"" + std::to_string(i) + ".wav\"\n";
            folder.write_wav(std::to_string(i) + ".wav", tone(0.1, 400 + 20 * i));
        }
        folder.toml(text + credit + "[sound.tone]\ntakes = " + takes + "\n" + bound);
        return codes_in(folder);
    };
    CHECK(found("{ series = \"tone\" }", 1) == Codes{"few-takes"});
    CHECK(found("{ series = \"tone\" }", 2) == Codes{"few-takes"});
    CHECK(found("{ series = \"tone\" }", 3).empty());
    CHECK(found("[\"tone-1\"]", 1).empty());
    CHECK(found("[\"tone-1\", \"tone-2\"]", 2) == Codes{"few-takes"});
    CHECK(found("[\"tone-1\", \"tone-2\"]\npick = \"cycle\"", 2).empty());
}
