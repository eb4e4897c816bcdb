// Converting and trimming clips: the new files, the old ones, kiai.toml, and what is refused.
#include "support/looped_files.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/workshop/convert.h>
#include <kiai/workshop/facts.h>

#include <catch2/catch.hpp>

#include <cmath>

using namespace support;
using kiai::AudioFormat;
using kiai::ConvertOptions;
namespace fs = std::filesystem;

namespace {

/// 100 ms of silence, half a second of a tone at -12 dBFS, 200 ms of silence.
Signal recording(double frequency = 500) {
    Signal signal(4800, 0.0f), tone = sine(frequency, 0.25, 24000);
    signal.insert(signal.end(), tone.begin(), tone.end());
    signal.insert(signal.end(), 9600, 0.0f);
    return signal;
}

struct Desk : ProjectFolder {
    Desk()
        : ProjectFolder(
              "# clips\n[clip]\nhum = \"clips/hum.wav\" # plain\nbuzz = { file = \"clips/buzz.wav\", gain = -3 "
              "}\n[sound.both]\ntakes = [\"hum\", \"buzz\"]\n[credit.\"clips\"]\nlicence = \"CC0-1.0\"\n") {
        fs::create_directory(path() / "clips");
        for (const auto& [name, frequency] : {std::pair("hum", 500.0), std::pair("buzz", 900.0)}) {
            const std::string bytes = wav_bytes(recording(frequency));
            write(std::string("clips/") + name + ".wav", bytes);
        }
    }
    kiai::ConvertResult convert(const std::vector<std::string>& names, const ConvertOptions& options) const {
        return kiai::convert_clips(path(), names, options);
    }
    kiai::Facts facts(const std::string& file) const {
        const auto read = kiai::read_facts(path() / file);
        REQUIRE(read.facts);
        return *read.facts;
    }
    bool exists(const std::string& file) const { return fs::exists(path() / file); }
};

} // namespace

TEST_CASE("Each format keeps the sound, the original is kept, and kiai.toml names the new file", "[convert]") {
    struct Case {
        AudioFormat format;
        const char* extension;
        double most_residue; ///< dBFS
    };
    const Case cases[] = {{AudioFormat::wav, ".wav", -200},
                          {AudioFormat::flac, ".flac", -200},
                          {AudioFormat::ogg, ".ogg", -50},
                          {AudioFormat::opus, ".opus", -35},
                          {AudioFormat::mp3, ".mp3", -40}};
    for (const Case& one : cases) {
        INFO(one.extension);
        const Desk desk;
        const std::string before = desk.read("clips/hum.wav");
        const auto result = desk.convert({"hum"}, {.format = one.format, .quality = 0.8});
        REQUIRE(result.ok());
        REQUIRE(result.clips.size() == 1);
        const kiai::ConvertedClip& clip = result.clips[0];
        CHECK(clip.residue <= one.most_residue);
        CHECK(clip.file == std::string("clips/hum") + one.extension);
        CHECK(clip.after.bytes == fs::file_size(desk.path() / clip.file));
        CHECK(std::abs(clip.after.seconds() - clip.before.seconds()) < 0.001);
        CHECK(std::abs(clip.after.loudness - clip.before.loudness) < 0.3f);
        CHECK(desk.read("originals/clips/hum.wav") == before);
        CHECK(desk.exists("clips/hum.wav") == (one.format == AudioFormat::wav));
        CHECK(desk.read("kiai.toml").find("hum = \"" + clip.file + "\" # plain") != std::string::npos);
        // It plays, with the credit of its folder, and check does not report the original.
        const kiai::CheckResult checked = kiai::check_project(desk.path());
        for (const kiai::Finding& finding : checked.findings) {
            CHECK(finding.code != kiai::FindingCode::no_credit);
            CHECK(finding.code != kiai::FindingCode::unregistered_file);
            CHECK(finding.severity != kiai::Severity::error);
        }
        const Signal left = side(kiai::hear(desk.load(), "hum").samples, 0);
        CHECK(fit_sine(left, 500, 10000, 20000).amplitude == Approx(0.25).epsilon(0.03));
    }
}

TEST_CASE("trim removes silence, keeps the sound bit for bit, and fades the rest", "[convert]") {
    const Desk desk;
    const auto result = desk.convert({"hum"}, {.trim = true, .fade = kiai::Seconds(0.01)});
    REQUIRE(result.ok());
    const kiai::ConvertedClip& clip = result.clips[0];
    const kiai::Facts after = desk.facts("clips/hum.wav");
    CHECK(clip.cut_start > 4600);
    CHECK(clip.cut_end > 9000);
    CHECK(after.frames == clip.before.frames - clip.cut_start - clip.cut_end);
    CHECK(after.lead <= 96);
    CHECK(after.trail <= 480);
    const Signal old = side(kiai::hear(project_of(recording()), "tone").samples, 0),
                 made = side(kiai::hear(desk.load(), "hum").samples, 0);
    std::size_t different = 0;
    for (std::size_t i = 500; i + 1000 < made.size(); ++i)
        different += std::abs(made[i] - old[i + static_cast<std::size_t>(clip.cut_start)]) > 1.01f / 32768 ? 1 : 0;
    CHECK(different == 0);
    CHECK(largest_second_difference(made) < 2 * largest_second_difference(old) + 1e-3);
    // Once more there is nothing left to cut, and the first original stays.
    const std::string original = desk.read("originals/clips/hum.wav");
    const auto again = desk.convert({"hum"}, {.trim = true, .fade = kiai::Seconds(0.01)});
    CHECK(again.clips[0].cut_start == 0);
    CHECK(desk.read("originals/clips/hum.wav") == original);
}

TEST_CASE("The peak and the loudness are set, the true peak stays below -1 dBTP", "[convert]") {
    const Desk desk;
    CHECK(desk.convert({"hum"}, {.peak = -6.0f}).ok());
    CHECK(desk.facts("clips/hum.wav").peak == Approx(-6).margin(0.05));
    CHECK(desk.convert({"buzz"}, {.loudness = -23.0}).ok());
    CHECK(desk.facts("clips/buzz.wav").loudness == Approx(-23).margin(0.3));
    const auto loud = desk.convert({"buzz"}, {.loudness = 0.0});
    REQUIRE(loud.ok());
    CHECK(desk.facts("clips/buzz.wav").true_peak == Approx(-1).margin(0.1));
    CHECK(loud.clips[0].remark.find("because of the true peak") != std::string::npos);
}

TEST_CASE("Clips are chosen by name, sound, pattern and folder", "[convert]") {
    const ConvertOptions look{.format = AudioFormat::flac, .dry_run = true};
    const Desk desk;
    CHECK(desk.convert({"both"}, look).clips.size() == 2);
    CHECK(desk.convert({"h*"}, look).clips.size() == 1);
    CHECK(desk.convert({"clips/"}, look).clips.size() == 2);
    CHECK(desk.convert({"clips"}, look).clips.size() == 2);
    const auto unknown = desk.convert({"humm"}, look);
    CHECK(!unknown.ok());
    CHECK(unknown.edited.findings.at(0).fix == "did you mean \"hum\"?");
    CHECK(!desk.exists("originals"));
    CHECK(desk.exists("clips/hum.wav"));
    CHECK(!desk.exists("clips/hum.flac"));
}

TEST_CASE("What would change the sound otherwise is refused, and nothing is lost", "[convert]") {
    const Desk desk;
    const auto why = [&](const ConvertOptions& options, const std::string& name = "hum") {
        const auto result = desk.convert({name}, options);
        REQUIRE(result.clips.size() == 1);
        CHECK(!result.ok());
        return result.clips[0].why;
    };
    const std::string toml = desk.read("kiai.toml");
    desk.write("kiai.toml", toml + "[sound.late]\ntakes = [\"hum\"]\nstart = \"50 ms\"\n");
    CHECK(why({.trim = true}).find("`start` of sound \"late\" counts") != std::string::npos);
    desk.write("kiai.toml", toml);
    desk.write("clips/hum.flac", "something else");
    CHECK(why({.format = AudioFormat::flac}) == "\"clips/hum.flac\" already exists");
    CHECK(desk.read("clips/hum.flac") == "something else");
    desk.write("clips/hum.wav", wav_with_loop(recording(), 100, 5000));
    CHECK(why({.format = AudioFormat::ogg}).find("loop points") != std::string::npos);
    desk.write_wav("clips/hum.wav", Signal(6 * 4800, 0.1f), 48000, 6);
    CHECK(why({.format = AudioFormat::ogg}) == "the file has 6 channels");
    desk.write("clips/hum.wav", "<html>");
    CHECK(why({.format = AudioFormat::ogg}).find("is a web page") != std::string::npos);
    CHECK(desk.read("kiai.toml") == toml);
    CHECK(!desk.exists("originals"));
}

TEST_CASE("A folder that cannot be written loses nothing", "[convert]") {
    const Desk desk;
    const std::string toml = desk.read("kiai.toml"), before = desk.read("clips/hum.wav");
    desk.write("originals", "a file where the folder would be");
    const auto result = desk.convert({"both"}, {.format = AudioFormat::flac});
    CHECK(!result.edited.ok());
    CHECK(result.edited.findings.at(0).code == kiai::FindingCode::not_written);
    CHECK(desk.read("kiai.toml") == toml);
    CHECK(desk.read("clips/hum.wav") == before);
    CHECK(!desk.exists("clips/hum.flac"));
    CHECK(!desk.exists("clips/buzz.flac"));
}

TEST_CASE("convert and trim print sizes and differences, and their JSON agrees", "[convert][tool]") {
    const Desk desk;
    const Ran look = kiai_tool("convert . both --to ogg --dry-run", desk.path());
    CHECK(look.status == 0);
    CHECK(look.out.find("2 clips would be converted") != std::string::npos);
    const Ran made = kiai_tool("trim . hum --peak -3", desk.path());
    INFO(made.out << made.err);
    CHECK(made.status == 0);
    CHECK(made.out.find("+9.0 dB") != std::string::npos);
    CHECK(made.out.find("the old files are in originals/") != std::string::npos);
    CHECK(kiai_tool("trim . hum --peak 3", desk.path()).status == 2);
    CHECK(kiai_tool("convert . hum --to wma", desk.path()).status == 2);
    CHECK(kiai_tool("convert . hum --to ogg --compare", desk.path()).status == 2); // no terminal
    CHECK(kiai_tool("convert . nothing --to ogg", desk.path()).status == 1);
}
