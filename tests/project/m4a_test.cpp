// AAC and Apple Lossless files, as three encoders write them.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/workshop/facts.h>
#include <kiai/workshop/pack.h>

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>

using namespace support;

namespace {

/// Made with GStreamer: a sine of 997 Hz, half full scale, at 44.1 kHz, `voaacenc bitrate=64000`, then `mp4mux` or
/// `aacparse`.
const std::filesystem::path recordings = source_folder() + "/tests/project/aac";

void make(const Folder& work, const std::string& command) {
    const Ran made = run(command, work.path());
    INFO(command << "\n" << made.err);
    REQUIRE(made.status == 0);
}

kiai::Project load(const Folder& work, const std::string& file, const std::string& more = {}) {
    work.write("kiai.toml", "format = 1\n[clip]\nc = { file = \"" + file + "\"" + more + " }\n");
    const kiai::LoadResult loaded = kiai::load_project(work.path());
    for (const kiai::Finding& finding : loaded.findings) FAIL_CHECK(finding.message << "; " << finding.fix);
    REQUIRE(loaded.ok());
    return loaded.project;
}

Signal heard(const Folder& work, const std::string& file, const std::string& more = {}) {
    return kiai::hear(load(work, file, more), "c").samples;
}

/// A minute of a chord that changes all the time, so that no two places are alike.
const char* const minute =
    "ffmpeg -v error -y -f lavfi -i \"aevalsrc='0.2*sin(400*t+30*t*t)|0.2*sin(300*t+20*t*t)':s=48000:d=60\" ";

} // namespace

TEST_CASE("An M4A of ffmpeg plays what was encoded, from its first frame to its last", "[m4a]") {
    const Folder work;
    make(work, "sox -r 48000 -n -b 24 -c 1 sine.wav synth 1 sine 997 gain -6.0206 && ffmpeg -v error -y -i sine.wav "
               "-c:a aac -b:a 160k c.m4a");
    const Signal out = side(heard(work, "c.m4a"), 0);
    CHECK(out.size() == 48000);
    const Fit fit = fit_sine(out, 997, 4000, 44000);
    CHECK(fit.amplitude == Approx(0.5).epsilon(0.01));
    CHECK(fit.snr_db() >= 40);
    // One frame of the encoder's delay left in it would differ from the source by -18 dB.
    const Signal wav = side(heard(work, "sine.wav"), 0);
    REQUIRE(wav.size() == out.size());
    double sum = 0, difference = 0;
    for (std::size_t i = 2000; i < 46000; ++i)
        sum += wav[i] * wav[i], difference += (out[i] - wav[i]) * (out[i] - wav[i]);
    CHECK(10 * std::log10(difference / sum) <= -35);
}

TEST_CASE("Apple Lossless gives the samples of the WAV that it was made from", "[m4a]") {
    const Folder work;
    for (const auto& [bits, format] : {std::pair{16, "s16p"}, std::pair{24, "s32p"}}) {
        make(work,
             "sox -D -r 48000 -n -b " + std::to_string(bits) +
                 " -c 2 source.wav synth 1.234 sine 300-3000 sine 500 gain -3 && ffmpeg -v error -y -i source.wav "
                 "-c:a alac -sample_fmt " +
                 format + " c.m4a");
        const bool same = heard(work, "c.m4a") == heard(work, "source.wav");
        CHECK(same);
        const auto facts = kiai::read_facts(work.path() / "c.m4a").facts;
        REQUIRE(facts);
        CHECK(facts->coding == std::to_string(bits) + "-bit ALAC");
        CHECK(facts->format == "M4A");
        CHECK(facts->bits == bits);
    }
}

TEST_CASE("Files of another AAC encoder play, in a container and without", "[m4a]") {
    const Folder work;
    for (const auto& [file, format] : {std::pair{"voaacenc.m4a", "M4A"}, std::pair{"voaacenc.aac", "AAC"}}) {
        INFO(file);
        std::filesystem::copy_file(recordings / file, work.path() / file);
        const Signal out = side(heard(work, file, ", rate = \"own\""), 0);
        CHECK(static_cast<double>(out.size()) / 48000 == Approx(0.5).margin(0.03));
        const Fit fit = fit_sine(out, 997, 6000, 18000);
        CHECK(fit.amplitude == Approx(0.5).epsilon(0.02));
        CHECK(fit.snr_db() >= 40);
        const auto facts = kiai::read_facts(work.path() / file).facts;
        REQUIRE(facts);
        CHECK(facts->format == format);
        CHECK(facts->coding == "AAC");
        CHECK(facts->rate == 44100);
    }
}

TEST_CASE("Six channels of AAC are folded to stereo", "[m4a]") {
    const Folder work;
    // Only the left surround sounds.
    make(work,
         "ffmpeg -v error -y -f lavfi -i \"aevalsrc='0|0|0|0|0.25*sin(2*PI*500*t)|0':s=48000:d=0.5:c=5.1\" -c:a aac "
         "-b:a 400k c.m4a");
    work.write("kiai.toml", "format = 1\n[clip]\nc = \"c.m4a\"\n");
    const kiai::LoadResult loaded = kiai::load_project(work.path());
    REQUIRE(loaded.findings.size() == 1);
    REQUIRE(loaded.findings[0].code == kiai::FindingCode::file_folded);
    const Signal out = kiai::hear(loaded.project, "c").samples;
    CHECK(fit_sine(side(out, 0), 500, 4000, 20000).amplitude == Approx(0.25 * std::sqrt(0.5)).margin(0.01));
    CHECK(fit_sine(side(out, 1), 500, 4000, 20000).amplitude == Approx(0).margin(0.01));
}

TEST_CASE("A streamed M4A gives the samples of the same file in memory, wherever it begins", "[m4a]") {
    const Folder work;
    make(work, std::string(minute) + "-c:a aac -b:a 160k c.m4a");
    make(work, std::string(minute) + "-c:a alac a.m4a");
    for (const char* file : {"c.m4a", "a.m4a"})
        for (const char* start : {"0 s", "0.1 s", "31.7 s", "59.9 s"}) {
            INFO(file << " from " << start);
            const auto hear = [&](const char* stream) {
                work.write("kiai.toml", "format = 1\n[clip]\nc = { file = \"" + std::string(file) + "\", stream = " +
                                            stream + " }\n[sound.s]\ntakes = [\"c\"]\nstart = \"" + start + "\"\n");
                const kiai::LoadResult loaded = kiai::load_project(work.path());
                for (const kiai::Finding& finding : loaded.findings) FAIL_CHECK(finding.message);
                REQUIRE(loaded.ok());
                return kiai::hear(loaded.project, "s").samples;
            };
            const Signal memory = hear("false"), stream = hear("true");
            REQUIRE(stream.size() == memory.size());
            float most = 0;
            for (std::size_t i = 0; i < stream.size(); ++i) most = std::max(most, std::abs(stream[i] - memory[i]));
            // AAC replaces noise by other noise, which depends on where decoding began.
            CHECK(most <= (*file == 'c' && *start > '1' ? 1e-4f : 0));
        }
}

TEST_CASE("A streamed M4A loops back to the frame", "[m4a]") {
    const Folder work;
    make(work, std::string(minute) + "-c:a alac c.m4a");
    make(work, "ffmpeg -v error -y -i c.m4a -c:a pcm_s24le c.wav");
    const auto loop = [&](const std::string& file) {
        work.write("kiai.toml",
                   "format = 1\n[clip]\nc = { file = \"" + file +
                       "\", stream = true }\n[sound.s]\ntakes = [\"c\"]\nloop = { from = \"20 s\", to = \"25 "
                       "s\", count = 3 }\n");
        const kiai::LoadResult loaded = kiai::load_project(work.path());
        REQUIRE(loaded.ok());
        return kiai::hear(loaded.project, "s").samples;
    };
    const bool same = loop("c.m4a") == loop("c.wav"); // not printed: a million samples
    CHECK(same);
}

TEST_CASE("A pack carries an M4A as it is", "[m4a]") {
    const Folder work;
    make(work, std::string(minute) + "-t 14 -c:a aac c.m4a");
    const kiai::Project project =
        load(work, "c.m4a",
             " }\n[sound.s]\ntakes = [\"c\"]\n[[binding]]\ntrigger = { key-down = \"KeyT\" }\naction = { play = \"s\"");
    const Signal before = kiai::hear(project, "s").samples;
    REQUIRE(kiai::make_pack(work.path(), {.out = work.path() / "all.kiai"}).bytes > 0);
    const kiai::LoadResult packed = kiai::load_project(work.path() / "all.kiai");
    REQUIRE(packed.ok());
    const bool same = kiai::hear(packed.project, "s").samples == before;
    CHECK(same);
}

TEST_CASE("A damaged M4A is refused or plays in part, and ends", "[m4a]") {
    const Folder work;
    make(work,
         "ffmpeg -v error -y -f lavfi -i sine=f=500:r=44100:d=1 -c:a aac c.m4a && ffmpeg -v error -y -i c.m4a -c:a "
         "copy -movflags faststart whole.m4a");
    const std::string whole = work.read("whole.m4a");
    std::size_t played = 0, refused = 0;
    const auto meet = [&](const std::string& bytes) {
        work.write("c.m4a", bytes);
        const kiai::FactsOrFinding read = kiai::read_facts(work.path() / "c.m4a");
        if (read.facts)
            ++played;
        else {
            ++refused;
            CHECK_FALSE(read.finding.message.empty());
            CHECK_FALSE(read.finding.fix.empty());
        }
    };
    for (std::size_t part = 1; part < 32; ++part) meet(whole.substr(0, whole.size() * part / 32));
    for (std::size_t at = 0; at < whole.size(); at += 101) {
        std::string bytes = whole;
        bytes[at] = static_cast<char>(bytes[at] ^ 0x5a);
        meet(bytes);
    }
    CHECK(played > 20);
    CHECK(refused > 5);
}

TEST_CASE("Only the sound of a video is read, and a video without sound is refused with its name", "[m4a]") {
    const Folder work;
    make(work,
         "ffmpeg -v error -y -f lavfi -i testsrc=d=1:s=64x64 -f lavfi -i sine=f=997:r=48000:d=1 -c:v mpeg4 -c:a aac "
         "both.mp4 && ffmpeg -v error -y -i both.mp4 -an -c:v copy silent.mp4");
    CHECK(heard(work, "both.mp4").size() == 2 * 48000);
    const kiai::FactsOrFinding read = kiai::read_facts(work.path() / "silent.mp4");
    CHECK_FALSE(read.facts);
    CHECK(read.finding.message.find("is a video (MP4)") != std::string::npos);
}

TEST_CASE("Windows Media is refused with its name and the fix", "[m4a]") {
    const Folder work;
    make(work, "ffmpeg -v error -y -f lavfi -i sine=d=1 -c:a wmav2 c.wma && cp c.wma named.wav");
    for (const char* name : {"c.wma", "named.wav"}) {
        const kiai::FactsOrFinding read = kiai::read_facts(work.path() / name);
        CHECK_FALSE(read.facts);
        CHECK(read.finding.message.find("is Windows Media audio or video (WMA, WMV)") != std::string::npos);
        CHECK(read.finding.fix.find("FLAC") != std::string::npos);
    }
}
