// The finished mix goes to a sink while it is rendered, and into a file.
#include "support/bench.h"
#include "support/signal.h"

#include <kiai/mix_file.h>

#include <catch2/catch.hpp>
#include <sndfile.h>

#include <filesystem>
#include <fstream>
#include <stdexcept>

using namespace support;
namespace fs = std::filesystem;

namespace {

struct Recorded {
    SF_INFO info{};
    std::vector<float> samples;
};

Recorded read_file(const fs::path& path) {
    Recorded recorded;
    SNDFILE* file = sf_open(path.string().c_str(), SFM_READ, &recorded.info);
    REQUIRE(file);
    recorded.samples.resize(static_cast<std::size_t>(recorded.info.frames) * 2);
    sf_readf_float(file, recorded.samples.data(), recorded.info.frames);
    sf_close(file);
    return recorded;
}

} // namespace

TEST_CASE("A sink gets what was rendered, sample for sample, from when it is set until it is unset", "[mix]") {
    Bench bench(hum, sine(500, 0.5, 48000));
    std::vector<float> got, all;
    bench.engine.play("hum");
    render(bench.engine, 1000);
    bench.engine.set_mix_sink([&](std::span<const float> part) { got.insert(got.end(), part.begin(), part.end()); });
    for (const kiai::Frames frames : {1, 700, 4800, 20000, 64}) {
        const std::vector<float> part = render(bench.engine, frames);
        all.insert(all.end(), part.begin(), part.end());
        bench.engine.poll();
    }
    CHECK(got == all);
    bench.engine.set_mix_sink(nullptr);
    render(bench.engine, 1000);
    bench.engine.poll();
    CHECK(got == all);
    CHECK(peak(got) > 0.4);
}

TEST_CASE("What a sink was polled for too late is silence of the same length, and the log says how much", "[mix]") {
    Bench bench(hum, sine(500, 0.5, 48000));
    std::vector<float> got;
    bench.engine.set_mix_sink([&](std::span<const float> part) { got.insert(got.end(), part.begin(), part.end()); },
                              kiai::Seconds(0.1)); // room for 8192 frames
    bench.engine.play("hum");
    std::vector<float> all;
    const auto go_on = [&](kiai::Frames frames) {
        const std::vector<float> part = render(bench.engine, frames, 480);
        all.insert(all.end(), part.begin(), part.end());
    };
    go_on(48000);
    bench.engine.poll();
    go_on(4800);
    bench.engine.poll();
    REQUIRE(got.size() == all.size());
    const std::size_t room = 8160 * 2; // whole blocks
    const std::size_t back = 48000 * 2;
    CHECK(std::equal(all.begin(), all.begin() + room, got.begin()));
    CHECK(peak(Signal(got.begin() + room, got.begin() + back)) == 0);
    CHECK(std::equal(all.begin() + back, all.end(), got.begin() + back));
    const auto lost = with_outcome(bench.log, kiai::Outcome::mix_lost);
    REQUIRE(lost.size() == 1);
    CHECK(describe(lost[0]) == "lost 39840 frames of the finished mix: call poll() once a frame");
}

TEST_CASE("A sink that throws, unsets itself or sets another one does no harm", "[mix]") {
    Bench bench(hum, sine(500, 0.5, 48000));
    int calls = 0, later = 0;
    SECTION("throws") {
        bench.engine.set_mix_sink([&](std::span<const float>) {
            ++calls;
            throw std::runtime_error("full");
        });
        for (int i = 0; i < 3; ++i) bench.decided(480);
        CHECK(calls == 3);
    }
    SECTION("unsets itself") {
        bench.engine.set_mix_sink([&](std::span<const float>) {
            ++calls;
            bench.engine.set_mix_sink(nullptr);
        });
        for (int i = 0; i < 3; ++i) bench.decided(48000);
        CHECK(calls == 1);
    }
    SECTION("sets another") {
        bench.engine.set_mix_sink([&](std::span<const float>) {
            ++calls;
            bench.engine.set_mix_sink([&](std::span<const float>) { ++later; });
        });
        for (int i = 0; i < 3; ++i) bench.decided(480);
        CHECK(calls == 1);
        CHECK(later == 2);
    }
}

TEST_CASE("A mix is recorded into WAV, FLAC and Ogg Vorbis", "[mix]") {
    const Folder folder;
    for (const char* name : {"run.wav", "run.flac", "run.OGG"}) {
        INFO(name);
        Bench bench(hum, sine(500, 0.5, 48000));
        const fs::path path = folder.path() / name;
        std::vector<float> all;
        {
            kiai::MixFile file(path, 48000);
            REQUIRE(file.error() == "");
            bench.engine.set_mix_sink(file);
            bench.engine.play("hum");
            for (int i = 0; i < 10; ++i) {
                const std::vector<float> part = render(bench.engine, 4800);
                all.insert(all.end(), part.begin(), part.end());
                bench.engine.poll();
            }
            bench.engine.set_mix_sink(nullptr);
            CHECK(file.error() == "");
            file.close();
            file(std::vector<float>(100)); // comes too late
        }
        const Recorded recorded = read_file(path);
        CHECK(recorded.info.samplerate == 48000);
        CHECK(recorded.info.channels == 2);
        CHECK(recorded.info.frames == 48000);
        double most = 0;
        for (std::size_t i = 9600; i < all.size(); ++i)
            most = std::max(most, std::abs(static_cast<double>(all[i] - recorded.samples[i])));
        CHECK(most <= (std::string(name) == "run.wav" ? 0 : std::string(name) == "run.flac" ? 1e-6 : 0.05));
    }
}

TEST_CASE("A mix file that cannot be written says why", "[mix]") {
    const Folder folder;
    CHECK(kiai::MixFile(folder.path() / "run.aac", 48000).error().find("use .wav, .flac or .ogg") != std::string::npos);
    kiai::MixFile nowhere(folder.path() / "no" / "such" / "folder" / "run.wav", 48000);
    CHECK(nowhere.error().find("run.wav cannot be written") != std::string::npos);
    nowhere(std::vector<float>(64)); // nothing happens
    if (fs::exists("/dev/full")) {
        std::error_code error;
        fs::create_symlink("/dev/full", folder.path() / "full.wav", error);
        REQUIRE(!error);
        kiai::MixFile full(folder.path() / "full.wav", 48000);
        if (full.error().empty()) full(std::vector<float>(1 << 18, 0.5f));
        CHECK(full.error() != "");
    }
}
