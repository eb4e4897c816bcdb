// Clips that do not come from a folder: samples in memory, the app's own reader; progress and cancelling.
#include "support/files_in_memory.h"
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <atomic>
#include <map>

#include <cmath>
#include <stdexcept>

using namespace support;
using kiai::FindingCode;

namespace {

const std::string given = "[clip]\ntone = { from-app = true, gain = -6 }\n";

Signal played(const kiai::Project& project, const std::string& name) {
    return side(kiai::hear(project, name).samples, 0);
}

} // namespace

TEST_CASE("A clip of the app's own samples sounds as from a file", "[sources]") {
    const Signal samples = noise(0.3, 4800, 2);
    const ProjectFolder folder(given);
    kiai::LoadOptions options;
    options.samples["tone"] = {48000, 1, samples};
    const kiai::LoadResult loaded = kiai::load_project(folder.path(), options);
    CHECK(loaded.findings.empty());
    CHECK(played(loaded.project, "tone") ==
          played(project_of(samples, "[sound.s]\ntakes = [\"tone\"]\ngain = -6\n"), "s"));
    options.samples["tone"] = {24000, 2, {0.1f, 0.2f, 0.1f, 0.2f}};
    CHECK(kiai::load_project(folder.path(), options).ok());
}

TEST_CASE("Samples that cannot be played are a finding, and none is a warning", "[sources]") {
    const ProjectFolder folder(given + "[sound.s]\ntakes = [\"tone\"]\n");
    const auto finding_of = [&](kiai::Samples samples) {
        kiai::LoadOptions options;
        options.samples["tone"] = std::move(samples);
        const kiai::LoadResult loaded = kiai::load_project(folder.path(), options);
        REQUIRE(loaded.findings.size() == 1);
        CHECK(loaded.findings[0].code == FindingCode::bad_value);
        CHECK(loaded.findings[0].line == 3);
        return loaded.findings[0].message;
    };
    CHECK(finding_of({48000, 1, {}}).find("no frames") != std::string::npos);
    CHECK(finding_of({48000, 3, {0, 0, 0}}).find("3 channels") != std::string::npos);
    CHECK(finding_of({0, 1, {0}}).find("a rate of 0") != std::string::npos);
    CHECK(finding_of({48000, 2, {0, 0, 0}}).find("half a frame") != std::string::npos);
    CHECK(finding_of({48000, 1, {0, NAN}}).find("NaN or infinite, at 1") != std::string::npos);
    const kiai::LoadResult none = folder.load_with_findings();
    REQUIRE(none.findings.size() == 1);
    CHECK(none.findings[0].code == FindingCode::not_given);
    CHECK(none.ok());
    folder.write_wav("a.wav", Signal(10, 0.1f));
    folder.toml("[clip]\ntone = { from-app = true, file = \"a.wav\" }\n");
    REQUIRE(folder.load_with_findings().findings.size() == 1);
    CHECK(folder.load_with_findings().findings[0].code == FindingCode::bad_value);
}

TEST_CASE("A project is read through the app's own reader, kiai.toml and all", "[sources]") {
    const ProjectFolder folder("[clip]\na = \"clips/a.wav\"\nb = \"clips/B.wav\"\n");
    folder.write_wav("a.wav", noise(0.3, 9600, 3));
    const auto open = files_in_memory({{"kiai.toml", folder.read("kiai.toml")}, {"clips/a.wav", folder.read("a.wav")}});
    const kiai::LoadResult loaded = kiai::load_project("nowhere", {.open = open});
    REQUIRE(loaded.findings.size() == 1);
    CHECK(loaded.findings[0].code == FindingCode::file_missing);
    CHECK(loaded.findings[0].line == 4);
    CHECK(played(loaded.project, "a") == played(project_of(noise(0.3, 9600, 3)), "tone"));
    const kiai::LoadResult empty = kiai::load_project("nowhere", {.open = files_in_memory({})});
    REQUIRE(empty.findings.size() == 1);
    CHECK(empty.findings[0].code == FindingCode::no_project);
    CHECK(empty.findings[0].message == "the app's reader has no kiai.toml");
}

TEST_CASE("A reader that throws, or tells nonsense, is a file that cannot be read", "[sources]") {
    struct Broken : kiai::FileReader {
        std::int64_t size() override { return 1000; }
        std::int64_t read(std::int64_t, std::span<std::byte>) override { throw std::runtime_error("gone"); }
    };
    const ProjectFolder folder("[clip]\na = \"a.wav\"\n");
    const auto toml = files_in_memory({{"kiai.toml", folder.read("kiai.toml")}});
    const kiai::LoadResult loaded =
        kiai::load_project("nowhere", {.open = [&](const std::string& path) -> std::unique_ptr<kiai::FileReader> {
                               if (path == "kiai.toml") return toml(path);
                               return std::make_unique<Broken>();
                           }});
    REQUIRE(loaded.findings.size() == 1);
    CHECK(loaded.findings[0].code == FindingCode::file_empty);
}

TEST_CASE("Loading reports how far it is, and can be cancelled", "[sources]") {
    std::string text = "[clip]\n";
    const ProjectFolder folder;
    for (int i = 0; i < 40; ++i) {
        text += "a" + std::to_string(i) + " = \"a" + std::to_string(i) + ".wav\"\n";
        folder.write_wav("a" + std::to_string(i) + ".wav", Signal(10, 0.1f));
    }
    folder.toml(text);
    std::size_t last = 0;
    bool forwards = true;
    const auto count = [&](std::size_t done, std::size_t all) {
        forwards = forwards && done >= last && all == 40;
        last = done;
    };
    CHECK(kiai::load_project(folder.path(), {.progress = count}).ok());
    CHECK(last == 40);
    CHECK(forwards);
    std::atomic<bool> stop{false};
    std::map<std::string, std::string> files{{"kiai.toml", folder.read("kiai.toml")}};
    for (int i = 0; i < 40; ++i)
        files["a" + std::to_string(i) + ".wav"] = folder.read("a" + std::to_string(i) + ".wav");
    std::atomic<int> opened{0}, stop_at{-1};
    const kiai::OpenFile disk = support::files_in_memory(std::move(files));
    kiai::LoadOptions options;
    options.open = [&](const std::string& path) {
        if (++opened == stop_at) stop = true;
        return disk(path);
    };
    options.cancel = [&] { return stop.load(); };
    CHECK(kiai::load_project(folder.path(), options).ok());
    stop_at = opened - 20; // the last of them decode
    opened = 0;
    const kiai::LoadResult half = kiai::load_project(folder.path(), options);
    CHECK_FALSE(half.ok());
    CHECK(half.findings.size() < 40);
    for (const kiai::Finding& finding : half.findings) CHECK(finding.code == FindingCode::load_cancelled);
    CHECK(played(half.project, "a0").size() == 10);
}
