// Sound files as other programs write them.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace support;

namespace {

struct Format {
    const char* command; ///< makes OUT from a sine of 997 Hz, half full scale, one second
    const char* file;
    double least_snr;          ///< of the coding, not of the engine
    bool lossy_length = false; ///< the coding adds frames of its own
};

} // namespace

TEST_CASE("WAV, AIFF, FLAC, Ogg Vorbis, Opus and MP3 of other programs sound as they should", "[formats]") {
    REQUIRE(run("sox --version").status == 0);
    REQUIRE(run("ffmpeg -version").status == 0);
    const Folder work;
    REQUIRE(run("sox -r 48000 -n -b 24 -c 1 sine.wav synth 1 sine 997 gain -6.0206", work.path()).status == 0);
    REQUIRE(run("sox -r 44100 -n -b 24 -c 2 sine44.wav synth 1 sine 997 gain -6.0206", work.path()).status == 0);
    const Format formats[] = {
        {"sox -D sine.wav -b 8 OUT", "u8.wav", 38},
        {"sox -D sine.wav -b 16 OUT", "s16.wav", 88},
        {"sox sine.wav -b 24 OUT", "s24.wav", 98},
        {"sox sine.wav -b 32 OUT", "s32.wav", 98},
        {"sox sine.wav -e float -b 32 OUT", "f32.wav", 98},
        {"sox sine.wav -e a-law OUT", "alaw.wav", 30},
        {"sox sine.wav -e mu-law OUT", "ulaw.wav", 30},
        {"sox sine.wav -e ima-adpcm OUT", "ima.wav", 20, true},
        {"sox -D sine.wav -b 16 OUT", "s16.aiff", 88},
        {"sox sine.wav -b 24 OUT", "s24.flac", 98},
        {"ffmpeg -v error -i sine.wav -c:a pcm_s16le OUT", "ff.wav", 85},
        {"ffmpeg -v error -i sine44.wav -c:a pcm_s24le OUT", "ff44.wav", 90},
        {"ffmpeg -v error -i sine44.wav -c:a flac OUT", "ff44.flac", 80},
        {"ffmpeg -v error -i sine.wav -c:a libvorbis -q:a 8 OUT", "ff.ogg", 20, true},
        {"ffmpeg -v error -i sine.wav -c:a libopus -b:a 160k OUT", "ff.opus", 20, true},
        {"ffmpeg -v error -i sine.wav -c:a libmp3lame -b:a 256k OUT", "ff.mp3", 20, true},
    };
    for (const Format& format : formats) {
        std::string command = format.command;
        command.replace(command.find("OUT"), 3, format.file);
        const Ran made = run(command, work.path());
        INFO(command << "\n" << made.err);
        REQUIRE(made.status == 0);
        work.write("kiai.toml", "format = 1\n[clip]\nc = \"" + std::string(format.file) + "\"\n");
        const kiai::Loaded loaded = kiai::load_project(work.path());
        REQUIRE(loaded.ok());
        const Signal out = side(kiai::hear(loaded.project, "c").samples, 0);
        const double slack = format.lossy_length ? 3000 : 2;
        CHECK(std::abs(static_cast<double>(out.size()) - 48000) <= slack);
        const Fit fit = fit_sine(out, 997, 4000, 44000);
        INFO("SNR " << fit.snr_db() << " dB, amplitude " << fit.amplitude);
        CHECK(fit.snr_db() >= format.least_snr);
        CHECK(fit.amplitude == Approx(0.5).epsilon(0.02));
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
    const kiai::Loaded loaded = kiai::load_project(folder.path());
    REQUIRE(loaded.findings.empty());
    const kiai::Rehearsal rehearsal =
        kiai::rehearse(loaded.project, kiai::load_trace(folder.path() / "all.jsonl").trace);
    const auto ended = with_outcome(rehearsal.decisions, kiai::Outcome::ended);
    REQUIRE(ended.size() == files.size());
    for (const kiai::Decision& play : ended) {
        const std::string& file = files[static_cast<std::size_t>(std::stoi(play.sound.substr(1)))].string();
        // What another program says of the same file.
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
