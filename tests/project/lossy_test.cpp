// Lossy files that decode to more than full scale, and MP3 of every kind.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/facts.h>
#include <kiai/workshop/check.h>
#include <kiai/workshop/why.h>

#include <catch2/catch.hpp>
#include <sndfile.h>

#include <cmath>
#include <fstream>

using namespace support;

namespace {

void encode(const std::filesystem::path& file, const Signal& samples, int format, int rate = 48000) {
    SF_INFO info{};
    info.samplerate = rate, info.channels = 1, info.format = format;
    SNDFILE* out = sf_open(file.string().c_str(), SFM_WRITE, &info);
    REQUIRE(out);
    double quality = 0.4;
    sf_command(out, SFC_SET_VBR_ENCODING_QUALITY, &quality, sizeof quality);
    for (std::size_t at = 0; at < samples.size(); at += 4096) // in pieces: the encoder's stack is small
        sf_writef_float(out, samples.data() + at,
                        static_cast<sf_count_t>(std::min<std::size_t>(4096, samples.size() - at)));
    sf_close(out);
}

/// Decodes with the library that wrote the file, as floats.
Signal decoded(const std::filesystem::path& file) {
    SF_INFO info{};
    SNDFILE* in = sf_open(file.string().c_str(), SFM_READ, &info);
    REQUIRE(in);
    Signal samples(static_cast<std::size_t>(info.frames));
    samples.resize(static_cast<std::size_t>(sf_readf_float(in, samples.data(), info.frames)));
    sf_close(in);
    return samples;
}

Signal clipped_tone() {
    Signal samples = sine(200, 1.6, 96000);
    for (float& x : samples) x = std::clamp(x, -0.989f, 0.989f);
    return samples;
}

} // namespace

TEST_CASE("A lossy clip above full scale never wraps around, in memory or streamed", "[lossy]") {
    const std::pair<const char*, int> codecs[] = {{"hot.ogg", SF_FORMAT_OGG | SF_FORMAT_VORBIS},
                                                  {"hot.opus", SF_FORMAT_OGG | SF_FORMAT_OPUS},
                                                  {"hot.mp3", SF_FORMAT_MPEG | SF_FORMAT_MPEG_LAYER_III}};
    for (const auto& [name, format] : codecs)
        for (const char* streamed : {"false", "true"}) {
            INFO(name << ", streamed: " << streamed);
            const ProjectFolder folder(std::string("[clip]\nhot = { file = \"") + name +
                                       "\", gain = -12, stream = " + streamed + " }\n");
            encode(folder.path() / name, clipped_tone(), format);
            const Signal reference = decoded(folder.path() / name);
            REQUIRE(peak(reference) > 1); // it does decode above full scale
            kiai::Engine engine(folder.load(), {.seed = 1, .synchronous_streams = true});
            engine.play("hot");
            const auto latency = static_cast<std::size_t>(engine.latency());
            const Signal out = side(render(engine, static_cast<kiai::Frames>(reference.size() + latency)), 0);
            const float gain = std::pow(10.0f, -12.0f / 20);
            double worst = 0;
            for (std::size_t i = 0; i < reference.size(); ++i)
                worst = std::max(worst, std::abs(static_cast<double>(out[i + latency]) - gain * reference[i]));
            CHECK(worst < 1e-6);
            const auto facts = kiai::read_facts(folder.path() / name).facts;
            REQUIRE(facts);
            CHECK(facts->peak == Approx(db(peak(reference))).margin(0.01));
            CHECK(facts->peak > 0);
            CHECK(facts->true_peak < 6); // what wraps around has a true peak of its own
            CHECK(facts->clipped == 0);
        }
}

TEST_CASE("An MP3 without a header frame is whole, begins at once, and is as long when it is streamed",
          "[lossy][mp3]") {
    const ProjectFolder folder;
    Signal samples(48000, 0.0f);
    for (std::size_t i = 0; i < samples.size(); ++i) // silent but for a tone that begins after a tenth of a second
        if (i >= 4800) samples[i] = 0.5f * static_cast<float>(std::sin(2 * pi * 1000 * static_cast<double>(i) / 48000));
    folder.write_wav("t.wav", samples);
    REQUIRE(run("ffmpeg -loglevel error -i t.wav -write_xing 0 -id3v2_version 0 bare.mp3", folder.path()).status == 0);
    REQUIRE(run("ffmpeg -loglevel error -i t.wav tagged.mp3", folder.path()).status == 0);
    folder.toml(
        "[clip]\nbare = \"bare.mp3\"\ntagged = \"tagged.mp3\"\nread = { file = \"bare.mp3\", stream = true }\n");
    const kiai::LoadResult loaded = folder.load_with_findings();
    for (const kiai::Finding& finding : loaded.findings) INFO(to_string(finding));
    CHECK(loaded.findings.empty());
    for (const kiai::Finding& finding : kiai::check_project(folder.path()).findings)
        CHECK(finding.code != kiai::FindingCode::file_cut_short);
    const auto onset = [&](const char* name) {
        kiai::Engine engine(loaded.project, {.seed = 1, .synchronous_streams = true});
        engine.play(name);
        const Signal out = side(render(engine, 60000), 0);
        for (std::size_t i = 0; i < out.size(); ++i)
            if (std::abs(out[i]) > 0.1f) return static_cast<double>(i) - static_cast<double>(engine.latency());
        return -1.0;
    };
    CHECK(onset("tagged") == Approx(4800).margin(100));
    CHECK(onset("bare") == Approx(4800).margin(100)); // not 1,105 frames later
    CHECK(onset("read") == onset("bare"));
}

TEST_CASE("What is no sound is called what it is, without a word of the decoder", "[lossy][formats]") {
    const ProjectFolder folder("[clip]\n");
    folder.write("page.mp3", "<!DOCTYPE html><html><body>404 not found</body></html>\n");
    folder.write("notes.wav", "just some text\n");
    std::string zip("PK\x03\x04", 4);
    zip.resize(100);
    folder.write("zip.ogg", zip);
    folder.write("noise.mp3", std::string(5000, '\x01'));
    const std::pair<const char*, const char*> cases[] = {{"page.mp3", "is a web page"},
                                                         {"notes.wav", "is a text file"},
                                                         {"zip.ogg", "is a ZIP archive"},
                                                         {"noise.mp3", "not in an audio format"}};
    for (const auto& [name, what] : cases) {
        const kiai::FactsOrFinding read = kiai::read_facts(folder.path() / name);
        REQUIRE_FALSE(read.facts);
        INFO(read.finding.message);
        CHECK(read.finding.message.find(what) != std::string::npos);
    }
    const Ran ran = kiai_tool("add . page.mp3", folder.path());
    CHECK(ran.err.find("Note") == std::string::npos);
}
