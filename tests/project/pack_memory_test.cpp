// A pack that the app has read itself, and clips of a pack that the app decodes.
#include "core/model/project.h"
#include "support/project_folder.h"

#include <kiai/workshop/workshop.h>

#include <catch2/catch.hpp>

#include <atomic>
#include <cstring>
#include <stdexcept>

using namespace support;
using kiai::FindingCode;

namespace {

constexpr const char* two_clips = "[clip]\n"
                                  "oak = \"oak.wav\"\n"
                                  "long = { file = \"long.wav\", stream = true }\n"
                                  "[sound.oak]\ntakes = [\"oak\"]\n"
                                  "[sound.long]\ntakes = [\"long\"]\n";

struct PackedBench : ProjectFolder {
    PackedBench() : ProjectFolder(two_clips) {
        write("oak.wav", wav_bytes(noise(0.5, 30000, 1)));
        write("long.wav", wav_bytes(noise(0.5, 200'000, 2)));
    }
    /// Packs the folder, and returns the bytes.
    std::vector<std::byte> pack(kiai::PackAs as) const {
        const auto file = path() / "bench.kiai";
        const kiai::PackResult made = kiai::make_pack(path(), {.out = file, .as = as});
        REQUIRE(made.bytes > 0);
        const std::string text = read("bench.kiai");
        std::vector<std::byte> bytes(text.size());
        std::memcpy(bytes.data(), text.data(), text.size());
        std::filesystem::remove(file);
        return bytes;
    }
};

std::vector<float> heard(const kiai::LoadResult& loaded, const std::string& sound, kiai::Frames frames) {
    for (const kiai::Finding& finding : loaded.findings) INFO(finding);
    REQUIRE(loaded.ok());
    kiai::Engine engine(loaded.project, {.seed = 3, .synchronous_streams = true});
    engine.play(sound);
    return render(engine, frames);
}

/// A decoder as an app may have one: reads a FLAC file through a project of its own.
std::optional<kiai::Samples> decode_flac(std::span<const std::byte> bytes) {
    const ProjectFolder folder("[clip]\none = \"one.flac\"\n[sound.one]\ntakes = [\"one\"]\n");
    folder.write("one.flac", std::string(reinterpret_cast<const char*>(bytes.data()), bytes.size()));
    const kiai::LoadResult loaded = kiai::load_project(folder.path());
    if (!loaded.ok()) return std::nullopt;
    const kiai::model::Audio& audio = *loaded.project.data().clips.front().audio;
    kiai::Samples samples;
    samples.rate = audio.rate;
    samples.channels = audio.channels;
    for (std::int64_t frame = 0; frame < audio.frames; ++frame)
        for (int channel = 0; channel < audio.channels; ++channel)
            samples.interleaved.push_back(audio.at(channel, frame));
    return samples;
}

std::string errors_of(const kiai::LoadResult& loaded) {
    std::string all;
    for (const kiai::Finding& finding : loaded.findings)
        if (finding.severity == kiai::Severity::error)
            all += std::string(kiai::to_string(finding.code)) + ": " + finding.message + '\n';
    return all;
}

} // namespace

TEST_CASE("A pack in memory sounds like its folder, in streams too", "[pack]") {
    const PackedBench folder;
    const kiai::LoadResult from_folder = kiai::load_project(folder.path());
    for (const kiai::PackAs as : {kiai::PackAs::wav, kiai::PackAs::flac}) {
        const kiai::LoadResult in_memory = kiai::load_pack(folder.pack(as));
        CHECK(in_memory.project.fingerprint() == from_folder.project.fingerprint());
        const bool oak = heard(in_memory, "oak", 48000) == heard(from_folder, "oak", 48000);
        const bool stream = heard(in_memory, "long", 220'000) == heard(from_folder, "long", 220'000);
        CHECK(oak);
        CHECK(stream);
    }
}

TEST_CASE("A pack in memory that is damaged is refused with its reason", "[pack]") {
    const PackedBench folder;
    std::vector<std::byte> bytes = folder.pack(kiai::PackAs::wav);
    bytes[100] ^= std::byte{1};
    CHECK(errors_of(kiai::load_pack(bytes)).find("pack-damaged") != std::string::npos);
    bytes.resize(bytes.size() / 2);
    CHECK(errors_of(kiai::load_pack(bytes)).find("pack-damaged: the pack has ") == 0);
    CHECK(errors_of(kiai::load_pack({})) == "pack-damaged: this file is not a pack\n");
}

TEST_CASE("An app may decode the clips of a pack itself", "[pack]") {
    const PackedBench folder;
    const kiai::LoadResult from_folder = kiai::load_project(folder.path());
    std::atomic<int> asked = 0;
    kiai::LoadOptions options;
    options.decode = [&](const std::string& path, std::span<const std::byte> bytes) {
        ++asked;
        CHECK((path == "oak.wav" || path == "long.wav")); // the names of kiai.toml, though the pack holds FLAC
        return decode_flac(bytes);
    };
    const kiai::LoadResult by_app = kiai::load_pack(folder.pack(kiai::PackAs::flac), options);
    CHECK(asked == 2);
    const bool oak = heard(by_app, "oak", 48000) == heard(from_folder, "oak", 48000);
    const bool whole = heard(by_app, "long", 220'000) == heard(from_folder, "long", 220'000);
    CHECK(oak);
    CHECK(whole);
    // Samples need no decoder.
    CHECK(kiai::load_pack(folder.pack(kiai::PackAs::wav), options).ok());
    CHECK(asked == 2);
}

TEST_CASE("Kiai decodes what the app's decoder does not", "[pack]") {
    const PackedBench folder;
    const std::vector<std::byte> pack = folder.pack(kiai::PackAs::flac);
    const auto usual = heard(kiai::load_pack(pack), "oak", 48000);
    kiai::LoadOptions options;
    SECTION("because it knows no such file") {
        options.decode = [](const std::string&, std::span<const std::byte>) { return std::nullopt; };
    }
    SECTION("because it throws") {
        options.decode = [](const std::string&, std::span<const std::byte>) -> std::optional<kiai::Samples> {
            throw std::runtime_error("no");
        };
    }
    const bool same = heard(kiai::load_pack(pack, options), "oak", 48000) == usual;
    CHECK(same);
}

TEST_CASE("Samples of the app's decoder that cannot be played are a finding", "[pack]") {
    const PackedBench folder;
    kiai::LoadOptions options;
    options.decode = [](const std::string&, std::span<const std::byte>) {
        return kiai::Samples{48000, 7, {0, 0, 0, 0, 0, 0, 0}};
    };
    const std::string errors = errors_of(kiai::load_pack(folder.pack(kiai::PackAs::flac), options));
    CHECK(errors.find("file-unreadable: ") == 0);
    CHECK(errors.find("was decoded by the app to samples with 7 channels") != std::string::npos);
}

TEST_CASE("The app's decoder gets no damaged bytes", "[pack]") {
    const PackedBench folder;
    std::vector<std::byte> pack = folder.pack(kiai::PackAs::flac);
    for (const std::size_t at : {std::size_t{100}, pack.size() / 2}) pack[at] ^= std::byte{1};
    int asked = 0;
    kiai::LoadOptions options;
    options.decode = [&](const std::string&, std::span<const std::byte>) -> std::optional<kiai::Samples> {
        ++asked;
        return std::nullopt;
    };
    CHECK(errors_of(kiai::load_pack(pack, options)).find("damaged in the pack") != std::string::npos);
    CHECK(asked == 0);
}

TEST_CASE("Samples sound the same whether they were 16-bit or floats, pitched and at another rate", "[pack]") {
    const PackedBench folder;
    const kiai::LoadResult own = kiai::load_project(folder.path());
    kiai::LoadOptions options;
    options.decode = [](const std::string&, std::span<const std::byte> bytes) { return decode_flac(bytes); };
    const kiai::LoadResult by_app = kiai::load_pack(folder.pack(kiai::PackAs::flac), options);
    for (const int rate : {44100, 48000, 96000})
        for (const kiai::Semitones pitch : {0.0f, 3.0f, -7.5f}) {
            const auto play = [&](const kiai::LoadResult& loaded) {
                kiai::Engine engine(loaded.project, {.sample_rate = rate, .seed = 3, .portable_kernels = true});
                engine.play("oak", {.pitch = pitch});
                return render(engine, 40000);
            };
            INFO(rate << " " << pitch);
            const auto a = play(own), b = play(by_app);
            const auto differs = std::mismatch(a.begin(), a.end(), b.begin(), b.end());
            CHECK(differs.first - a.begin() == static_cast<std::ptrdiff_t>(a.size()));
        }
}
