// Audio files as other programs write them.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace support;

namespace {

struct Format {
    std::string command; ///< makes OUT from a sine of 997 Hz, half full scale, one second
    std::string file;
    double least_snr;       ///< of the coding, not of the engine
    double more_frames = 0; ///< added by the coding, if its file does not state them
};

/// Makes the file and plays it as a clip: checks its length at 48 kHz, the sine in it, and that there is nothing else.
void try_format(const Folder& work, const Format& format) {
    std::string command = format.command;
    command.replace(command.find("OUT"), 3, format.file);
    const Ran made = run(command, work.path());
    INFO(command << "\n" << made.err);
    REQUIRE(made.status == 0);
    work.write("kiai.toml", "format = 1\n[clip]\nc = \"" + format.file + "\"\n");
    const kiai::LoadResult loaded = kiai::load_project(work.path());
    for (const kiai::Finding& finding : loaded.findings) FAIL_CHECK(finding.message);
    REQUIRE(loaded.ok());
    const Signal out = side(kiai::hear(loaded.project, "c").samples, 0);
    CHECK(std::abs(static_cast<double>(out.size()) - 48000) <= 2 + format.more_frames);
    const Fit fit = fit_sine(out, 997, 4000, 44000);
    INFO("SNR " << fit.snr_db() << " dB, amplitude " << fit.amplitude << ", " << out.size() << " frames");
    CHECK(fit.snr_db() >= format.least_snr);
    const bool scaled = format.file.ends_with("mp3"); // at some rates its encoder makes everything 0.26 dB quieter
    CHECK(fit.amplitude == Approx(0.5).epsilon(scaled ? 0.04 : 0.02));
}

/// Makes the same sine at several rates, as a source for other files.
void make_sources(const Folder& work) {
    REQUIRE(run("sox --version").status == 0);
    REQUIRE(run("ffmpeg -version").status == 0);
    for (const int rate : {8000, 8012, 11025, 22050, 44100, 48000, 96000})
        REQUIRE(run("sox -r " + std::to_string(rate) + " -n -b 24 -c 1 sine" + std::to_string(rate) +
                        ".wav synth 1 sine 997 gain -6.0206",
                    work.path())
                    .status == 0);
    REQUIRE(run("cp sine48000.wav sine.wav && sox -r 44100 -n -b 24 -c 2 stereo.wav synth 1 sine 997 gain -6.0206",
                work.path())
                .status == 0);
}

} // namespace

TEST_CASE("Every coding of WAV at every rate, as sox writes it", "[formats]") {
    const Folder work;
    make_sources(work);
    const std::pair<const char*, double> codings[] = {{"-b 8", 38},      {"-b 16", 85},          {"-b 24", 90},
                                                      {"-b 32", 90},     {"-e float -b 32", 90}, {"-e a-law", 30},
                                                      {"-e mu-law", 30}, {"-e ima-adpcm", 20},   {"-e ms-adpcm", 20}};
    for (const int rate : {8000, 8012, 11025, 22050, 44100, 48000, 96000})
        for (const auto& [coding, snr] : codings)
            // Ignores what sox adds to the beginning of its 8012 Hz file, and what its ADPCM loses at low rates.
            try_format(work, {"sox -D sine" + std::to_string(rate) + ".wav " + coding + " OUT", "c.wav",
                              rate < 20000 ? snr - 8 : snr, 4});
}

TEST_CASE("Other files of sox and ffmpeg sound as they should, to the frame", "[formats]") {
    const Folder work;
    make_sources(work);
    const Format formats[] = {
        {"sox -D sine.wav -b 16 OUT", "s16.aiff", 88},
        {"sox sine.wav -b 24 OUT", "s24.aifc", 98},
        {"sox sine.wav -b 24 OUT", "s24.au", 98},
        {"sox sine.wav -e mu-law OUT", "ulaw.au", 30},
        {"sox sine.wav -b 24 OUT", "s24.caf", 98},
        {"sox sine.wav -b 24 OUT", "s24.flac", 98},
        {"sox sine.wav OUT", "s.ogg", 20},
        {"ffmpeg -v error -y -i sine.wav -c:a pcm_s16le OUT", "ff.wav", 85},
        {"ffmpeg -v error -y -i stereo.wav -c:a pcm_s24le OUT", "ff44.wav", 90},
        {"ffmpeg -v error -y -i stereo.wav -c:a pcm_s24be OUT", "ff44.aiff", 90},
        {"ffmpeg -v error -y -i stereo.wav -c:a pcm_s24be OUT", "ff44.caf", 90},
        {"ffmpeg -v error -y -i stereo.wav -c:a pcm_s16be OUT", "ff44.au", 85},
        {"ffmpeg -v error -y -i stereo.wav -c:a flac OUT", "ff44.flac", 80},
        {"ffmpeg -v error -y -i stereo.wav -c:a adpcm_ms OUT", "ffms.wav", 20, 2200}, // its header counts the padding
        {"ffmpeg -v error -y -i sine.wav -c:a libvorbis -q:a 8 OUT", "ff.ogg", 20},
        {"ffmpeg -v error -y -i sine.wav -c:a libopus -b:a 160k OUT", "ff.opus", 20},
        // With the encoder's delay and padding stated and removed: gapless.
        {"ffmpeg -v error -y -i sine.wav -c:a libmp3lame -b:a 256k OUT", "cbr.mp3", 20},
        {"ffmpeg -v error -y -i sine.wav -c:a libmp3lame -q:a 2 OUT", "vbr.mp3", 20},
        {"ffmpeg -v error -y -i stereo.wav -c:a libmp3lame -q:a 4 OUT", "vbr44.mp3", 20},
        {"ffmpeg -v error -y -i sine.wav -c:a libmp3lame -b:a 192k -id3v2_version 3 -write_id3v1 1 -metadata "
         "title=sine -metadata "
         "artist=Kiai OUT",
         "tags.mp3", 20},
        {"sox sine.wav -C 192 OUT", "sox.mp3", 20, 1600}, // which does not state its padding
    };
    for (const Format& format : formats) try_format(work, format);
}

TEST_CASE("More than two channels are folded to stereo by the standard's gains, and it is said", "[formats]") {
    const Folder work;
    // Each channel has a frequency of its own; which side plays it, and at which level.
    struct Layout {
        const char* name;
        std::vector<std::pair<double, double>> gains;
    };
    const double h = std::sqrt(0.5);
    const Layout layouts[] = {
        {"3.0", {{1, 0}, {0, 1}, {h, h}}},
        {"quad", {{1, 0}, {0, 1}, {h, 0}, {0, h}}},
        {"5.0", {{1, 0}, {0, 1}, {h, h}, {h, 0}, {0, h}}},
        {"5.1", {{1, 0}, {0, 1}, {h, h}, {0, 0}, {h, 0}, {0, h}}},
        {"7.1", {{1, 0}, {0, 1}, {h, h}, {0, 0}, {h, 0}, {0, h}, {h, 0}, {0, h}}},
    };
    for (const char* extension : {"wav", "flac", "ogg", "opus"})
        for (const Layout& layout : layouts) {
            const bool opus = std::string(extension) == "opus", lossy = opus || std::string(extension) == "ogg";
            if (lossy && std::string(layout.name) == "3.0") continue; // whose encoders take no such layout
            const auto frequency = [](std::size_t channel) { return 480.0 * static_cast<double>(channel + 1); };
            std::string sources;
            for (std::size_t c = 0; c < layout.gains.size(); ++c)
                sources += (c > 0 ? "|" : "") + ("0.1*sin(2*PI*" + std::to_string(frequency(c)) + "*t)");
            const Ran made =
                run("ffmpeg -v error -y -f lavfi -i \"aevalsrc='" + sources + "':s=48000:d=0.5:c=" + layout.name +
                        "\" " + (lossy ? "-b:a 500k " : "") + (opus ? "-mapping_family 1 " : "") + "c." + extension,
                    work.path());
            INFO(layout.name << " in " << extension << ": " << made.err);
            REQUIRE(made.status == 0);
            work.write("kiai.toml", "format = 1\n[clip]\nc = \"c." + std::string(extension) + "\"\n");
            const kiai::LoadResult loaded = kiai::load_project(work.path());
            REQUIRE(loaded.findings.size() == 1);
            CHECK(loaded.findings[0].code == kiai::FindingCode::file_folded);
            CHECK(loaded.findings[0].message.find(std::to_string(layout.gains.size()) + " channels") !=
                  std::string::npos);
            const auto out = kiai::hear(loaded.project, "c").samples;
            const double slack = lossy ? 0.008 : 0.0008;
            for (std::size_t channel = 0; channel < layout.gains.size(); ++channel) {
                INFO("channel " << channel);
                const auto [left, right] = layout.gains[channel];
                const double own = frequency(channel);
                CHECK(fit_sine(side(out, 0), own, 4000, 20000).amplitude == Approx(0.1 * left).margin(slack));
                CHECK(fit_sine(side(out, 1), own, 4000, 20000).amplitude == Approx(0.1 * right).margin(slack));
            }
        }
}

TEST_CASE("The sound files of Debian's packages play: as long and as loud as the files say", "[formats]") {
    std::vector<std::filesystem::path> files;
    for (const char* folder : {"/usr/share/sounds/freedesktop/stereo", "/usr/share/sounds/alsa"}) {
        INFO(folder << " comes with the packages that scripts/packages lists");
        REQUIRE(std::filesystem::is_directory(folder));
        for (const auto& entry : std::filesystem::directory_iterator(folder))
            if (entry.is_regular_file()) files.push_back(entry.path());
    }
    REQUIRE(files.size() > 30);
    const Folder folder;
    std::string text = "format = 1\n[clip]\n", trace = "{\"trace\": 1, \"rate\": 48000, \"seed\": 1}\n";
    for (std::size_t i = 0; i < files.size(); ++i) {
        const std::string name = "c" + std::to_string(i) + files[i].extension().string();
        std::filesystem::copy_file(files[i], folder.path() / name);
        text += "c" + std::to_string(i) + " = \"" + name + "\"\n";
        trace += "{\"at\": " + std::to_string(i * 20) + ", \"play\": \"c" + std::to_string(i) + "\"}\n";
    }
    folder.write("kiai.toml", text);
    folder.write("all.jsonl", trace);
    const kiai::LoadResult loaded = kiai::load_project(folder.path());
    REQUIRE(loaded.findings.empty());
    const kiai::Rehearsal rehearsal =
        kiai::rehearse(loaded.project, kiai::load_trace(folder.path() / "all.jsonl").trace);
    const auto ended = with_outcome(rehearsal.decisions, kiai::Outcome::ended);
    REQUIRE(ended.size() == files.size());
    for (const kiai::Decision& play : ended) {
        const std::string& file = files[static_cast<std::size_t>(std::stoi(play.sound.substr(1)))].string();
        // The facts that another program reports for the file.
        const Ran seconds = run("soxi -D '" + file + "'"),
                  loudest = run("sox '" + file +
                                "' -r 48000 -e float -b 32 -t wav - | sox -t wav - -n stat 2>&1 | awk '/Maximum "
                                "amplitude/ {a=$3} /Minimum amplitude/ {b=-$3} END {print (a > b) ? a : b}'");
        INFO(file);
        REQUIRE(seconds.status == 0);
        CHECK(static_cast<double>(play.length) / 48000 == Approx(std::stod(seconds.out)).margin(0.001));
        CHECK(play.level > -50);
        CHECK(play.level ==
              Approx(db(std::stod(loudest.out))).margin(0.5)); // two filters that differ near half the rate
    }
}
