// The commands hear and even, as typed in a shell.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <nlohmann/json.hpp>
#include <sndfile.h>

#include <cmath>

using namespace support;
using nlohmann::json;

namespace {

/// Returns the samples of a WAV file, and its format.
Signal samples_of(const std::filesystem::path& file, int* format = nullptr) {
    SF_INFO info{};
    SNDFILE* in = sf_open(file.string().c_str(), SFM_READ, &info);
    REQUIRE(in);
    Signal out(static_cast<std::size_t>(info.frames * info.channels));
    sf_readf_float(in, out.data(), info.frames);
    sf_close(in);
    if (format) *format = info.format & SF_FORMAT_SUBMASK;
    return out;
}

const char* bench_text = "[clip]\na = \"a.wav\"\nb = \"b.wav\"\n[dial.fill]\n"
                         "[[sound.two.layer]]\ntakes = [\"a\"]\n[[sound.two.layer]]\ntakes = [\"b\"]\ngain = -20\n"
                         "[sound.follows]\ntakes = [\"a\"]\nfollow = [\n"
                         "    { dial = \"fill\", target = \"gain\", curve = [[0, -20], [1, 0]] },\n"
                         "    { value = \"speed\", target = \"gain\", curve = [[0, 0], [2, -6]] },\n"
                         "    { value = \"strength\", target = \"gain\", curve = [[0, -12], [1, 0]] },\n]\n";

struct TwoLayers : ProjectFolder {
    TwoLayers() : ProjectFolder(bench_text) {
        write_wav("a.wav", Signal(4800, 0.5f));
        write_wav("b.wav", Signal(4800, 0.25f));
    }
    Ran hear(const std::string& arguments) const { return kiai_tool("hear . " + arguments + " --out out.wav", path()); }
    double level() const { return samples_of(path() / "out.wav")[2000]; }
};

} // namespace

TEST_CASE("hear: one layer, dials, values, strength, gap and loop reach the sound", "[tool]") {
    const TwoLayers bench;
    REQUIRE(bench.hear("two").status == 0);
    CHECK(bench.level() == Approx(0.5 + 0.025));
    REQUIRE(bench.hear("two --layer 2").status == 0);
    CHECK(bench.level() == Approx(0.025));
    const Ran none = bench.hear("two --layer 3");
    CHECK(none.status == 1);
    CHECK(none.err == "kiai: the sound has no layer 3; `kiai show` lists its layers\n");
    REQUIRE(bench.hear("follows --dial fill=1 --value speed=2 --strength 0.5").status == 0);
    CHECK(db(bench.level() / 0.5) == Approx(-12).margin(0.001));
    REQUIRE(bench.hear("follows").status == 0);
    CHECK(db(bench.level() / 0.5) == Approx(-20).margin(0.001));
    REQUIRE(bench.hear("a --times 2 --gap 0.5").status == 0);
    CHECK(samples_of(bench.path() / "out.wav").size() == 2 * (2 * 4800 + 24000));
}

TEST_CASE("hear: what cannot be heard is said in one line", "[tool]") {
    const TwoLayers bench;
    const std::pair<const char*, const char*> mistakes[] = {
        {"towo", "kiai: unknown sound or clip \"towo\"; did you mean \"two\"?\n"},
        {"follows --dial fil=1", "kiai: unknown dial \"fil\"; did you mean \"fill\"?\n"},
        {"follows --value sped=1", "kiai: no follow of follows has a value \"sped\"; did you mean \"speed\"?\n"},
        {"follows --dial fill", "kiai: --dial fill is not NAME=NUMBER; write --dial speed=2.5\n"},
        {"follows --value speed=fast", "kiai: --value speed=fast is not NAME=NUMBER; write --value speed=2.5\n"}};
    for (const auto& [words, says] : mistakes) {
        const Ran ran = bench.hear(words);
        INFO(words);
        CHECK(ran.status != 0);
        CHECK(ran.err == says);
    }
    const Ran held = bench.hear("follows --dial fill=2");
    CHECK(held.status == 0);
    CHECK(held.err.find("clamped to its range") != std::string::npos);
}

TEST_CASE("hear --compare: two sounds come out as loud as each other", "[tool]") {
    const ProjectFolder folder("[clip]\nloud = \"loud.wav\"\nsoft = \"soft.wav\"\n");
    folder.write_wav("loud.wav", sine(1000, 0.5, 48000));
    folder.write_wav("soft.wav", sine(1000, 0.1, 48000));
    const Ran ran = kiai_tool("hear . loud --compare soft --out out.wav", folder.path());
    REQUIRE(ran.status == 0);
    CHECK(ran.out.find("loud: -6.0 LUFS, lowered by 14.0 dB to compare\nsoft: -20.0 LUFS\n") != std::string::npos);
    const Signal out = side(samples_of(folder.path() / "out.wav"), 0);
    CHECK(db(rms(out, 10000, 40000)) == Approx(db(rms(out, 65000, 95000))).margin(0.02));
}

TEST_CASE("hear --bits: whole steps with a dither that leaves no distortion and a level floor", "[tool]") {
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\n");
    folder.write_wav("tone.wav", sine(997, 1.5 / 32768, 96000)); // one and a half steps of sixteen bits
    for (const int bits : {16, 24}) {
        REQUIRE(kiai_tool("hear . tone --out out.wav --bits " + std::to_string(bits), folder.path()).status == 0);
        int format = 0;
        const Signal out = side(samples_of(folder.path() / "out.wav", &format), 0);
        CHECK(format == (bits == 16 ? SF_FORMAT_PCM_16 : SF_FORMAT_PCM_24));
        const double step = std::ldexp(1.0, 1 - bits);
        const Fit fit = fit_sine(out, 997, 0, out.size());
        CHECK(fit.amplitude == Approx(1.5 / 32768).epsilon(0.02));
        CHECK(fit.residue == Approx(0.5 * step).epsilon(0.05)); // of rounding and a dither two steps wide
        for (const double harmonic : {2.0, 3.0, 5.0, 7.0})
            CHECK(fit_sine(out, 997 * harmonic, 0, out.size()).amplitude < 0.02 * step);
        for (const double quiet : {200.0, 5300.0, 11000.0, 20000.0}) // no part of the floor stands out
            CHECK(fit_sine(out, quiet, 0, out.size()).amplitude < 0.02 * step);
    }
    CHECK(kiai_tool("hear . tone --out out.wav --bits 12", folder.path()).status == 2);
}

TEST_CASE("even matches takes and writes their gains into kiai.toml", "[tool]") {
    const ProjectFolder folder("[clip]\noak-1 = \"1.wav\" # the first\noak-2 = { file = \"2.wav\" }\n\n[clip.oak-3]\n"
                               "file = \"3.wav\"\ngain = -2\n\n[sound.oak]\ntakes = { series = \"oak\" }\n");
    folder.write_wav("1.wav", sine(1000, 0.1, 48000));
    folder.write_wav("2.wav", sine(1000, 0.2, 48000));
    folder.write_wav("3.wav", sine(1000, 0.1, 48000));
    const std::string before = folder.read("kiai.toml");
    const Ran proposed = kiai_tool("even . oak --dry-run", folder.path());
    CHECK(proposed.status == 0);
    CHECK(proposed.out.find("2 gains proposed, nothing written") != std::string::npos);
    CHECK(folder.read("kiai.toml") == before);
    REQUIRE(kiai_tool("even . oak", folder.path()).status == 0);
    CHECK(
        folder.read("kiai.toml") ==
        "format = 1\n[clip]\noak-1 = \"1.wav\" # the first\noak-2 = { file = \"2.wav\", gain = -6.0 }\n\n[clip.oak-3]\n"
        "file = \"3.wav\"\ngain = 0.0\n\n[sound.oak]\ntakes = { series = \"oak\" }\n");
    const Ran again = kiai_tool("even . oak", folder.path());
    CHECK(again.out.find("no changes needed") != std::string::npos);
    const json gains = json::parse(kiai_tool("even . oak --json", folder.path()).out)["gains"];
    REQUIRE(gains.size() == 3);
    for (const json& one : gains) CHECK(one["loudness"].get<double>() == Approx(-20).margin(0.1));
}

TEST_CASE("even --loudness sets the loudness of a sound by its own gain", "[tool]") {
    const ProjectFolder folder(
        "[clip]\na = \"a.wav\"\n[bus.low]\ngain = -3\n[sound.s]\ntakes = [\"a\"]\nbus = \"low\"\n");
    folder.write_wav("a.wav", sine(1000, 0.1, 96000));
    REQUIRE(kiai_tool("even . s --loudness -30", folder.path()).status == 0);
    CHECK(folder.read("kiai.toml").find("bus = \"low\"\ngain = -7.0\n") !=
          std::string::npos); // -20 LUFS on a bus of -3
    CHECK(json::parse(kiai_tool("even . s --loudness -30 --dry-run --json", folder.path()).out)["gains"][0]["loudness"]
              .get<double>() == Approx(-30).margin(0.06));
    const Ran loud = kiai_tool("even . s --loudness 0 --dry-run", folder.path());
    CHECK(loud.out.find("where the limiter works") != std::string::npos);
    REQUIRE(kiai_tool("even . a --loudness -26", folder.path()).status == 0); // a clip that is played by its own name
    CHECK(folder.read("kiai.toml").find("a = { file = \"a.wav\", gain = -6.0 }") != std::string::npos);
    const Ran none = kiai_tool("even . z", folder.path());
    CHECK(none.status == 1);
    CHECK(none.err.find("unknown sound \"z\"") != std::string::npos);
}

TEST_CASE("The reference and the schema are made of the table that the reader goes by", "[tool]") {
    const std::filesystem::path docs = std::filesystem::path(source_folder()) / "docs";
    const Ran listed = run("KIAI='" + tested_tool() + "' '" + source_folder() + "/scripts/list-keys' project");
    REQUIRE(listed.status == 0);
    CHECK(listed.out == text_of(docs / "project.md"));
    CHECK(run("KIAI='" + tested_tool() + "' '" + source_folder() + "/scripts/list-keys' expectations").out ==
          text_of(docs / "expectations.md"));
    CHECK(kiai_tool("check --schema expectations --json").out == text_of(docs / "expectations.schema.json"));
    const std::string schema = kiai_tool("check --schema project --json").out;
    CHECK(schema == text_of(docs / "kiai.schema.json"));
    const json all = json::parse(schema);
    std::size_t found = 0;
    for (const kiai::Key& key : kiai::project_keys()) {
        const json& holder = std::string(key.parent) == "project" ? all : all["$defs"][key.parent];
        REQUIRE(holder["properties"].contains(key.name));
        CHECK(holder["properties"][key.name]["description"] == key.description);
        ++found;
    }
    CHECK(found > 90);
}

TEST_CASE("A number out of its key's range is refused with that range, for every key", "[tool]") {
    for (const kiai::Key& key : kiai::project_keys()) {
        const std::string section = key.parent;
        if (key.takes != kiai::Takes::number || (section != "sound" && section != "layer")) continue;
        const ProjectFolder folder;
        folder.write_wav("a.wav", Signal(10, 0.1f));
        folder.toml("[clip]\na = \"a.wav\"\n[[sound.s.layer]]\ntakes = [\"a\"]\n" +
                    std::string(section == "layer" ? key.name : "gain") + " = " +
                    std::to_string(section == "layer" ? key.high + 1000 : 0) + "\n[sound.t]\ntakes = [\"a\"]\n" +
                    (section == "sound" ? key.name + std::string(" = ") + std::to_string(key.low - 1000) + "\n" : ""));
        const auto findings = folder.load_with_findings().findings;
        INFO(section << "." << key.name);
        REQUIRE(findings.size() == 1);
        CHECK(findings[0].fix.find(std::string(key.name) + " takes ") != std::string::npos);
    }
}
