// Facts of files, compared with what other programs measure, and cached.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <chrono>
#include <cmath>

using namespace support;

namespace {

/// Returns the number after a label in the summary of ffmpeg's loudness meter.
double after(const std::string& text, const std::string& label) {
    const auto summary = text.rfind("Summary:");
    REQUIRE(summary != std::string::npos);
    return std::stod(text.substr(text.find(label, summary) + label.size()));
}

kiai::Facts facts_of(const std::filesystem::path& file) {
    const kiai::FactsOrFinding read = kiai::read_facts(file);
    INFO(file << ": " << read.finding.message);
    REQUIRE(read.facts);
    return *read.facts;
}

} // namespace

TEST_CASE("Loudness and true peak are those of another meter", "[facts]") {
    const Folder work;
    for (const auto& entry : std::filesystem::directory_iterator(demo() / "clips")) {
        const kiai::Facts facts = facts_of(entry.path());
        if (facts.seconds() < 0.5) continue; // what is shorter than 400 ms has no integrated loudness there
        const Ran meter = run("ffmpeg -hide_banner -nostats -i '" + entry.path().string() +
                              "' -af ebur128=peak=true:dualmono=true -f null -");
        INFO(entry.path());
        CHECK(facts.loudness == Approx(after(meter.err, "I:")).margin(0.15)); // it prints tenths
        CHECK(facts.true_peak == Approx(after(meter.err, "Peak:")).margin(0.3));
    }
    // A sine at full scale on both sides is 0 LUFS (BS.1770-4); at -20 dB, mono or stereo, it is -20.
    work.write_wav("mono.wav", sine(997, 0.1, 48000));
    CHECK(facts_of(work.path() / "mono.wav").loudness == Approx(-20).margin(0.05));
    work.write_wav("brief.wav", sine(997, 0.1, 4800)); // 100 ms: taken as a whole
    CHECK(facts_of(work.path() / "brief.wav").loudness == Approx(-20).margin(0.3));
    // Between its samples, a sine at a quarter of the rate with a phase of 45 degrees is 3 dB higher than at them.
    work.write_wav("between.wav", sine(12000, 0.5, 48000, 48000, 0.125));
    CHECK(facts_of(work.path() / "between.wav").peak == Approx(-9.03).margin(0.01));
    CHECK(facts_of(work.path() / "between.wav").true_peak == Approx(-6.02).margin(0.2));
}

TEST_CASE("Silence, offset and clipping are reported by the frame", "[facts]") {
    const Folder work;
    Signal samples(10000, 0.0f);
    for (std::size_t i = 2000; i < 7000; ++i) samples[i] = i % 2 == 0 ? 0.5f : -0.25f;
    for (std::size_t i = 3000; i < 3007; ++i) samples[i] = 1.0f;
    for (std::size_t i = 5000; i < 5003; ++i) samples[i] = -1.0f;
    work.write_wav("f.wav", samples, 44100);
    const kiai::Facts facts = facts_of(work.path() / "f.wav");
    CHECK(facts.format == "WAV");
    CHECK(facts.coding == "32-bit float");
    CHECK(facts.bits == 32);
    CHECK(facts.rate == 44100);
    CHECK(facts.channels == 1);
    CHECK(facts.frames == 10000);
    CHECK(facts.bytes == std::filesystem::file_size(work.path() / "f.wav"));
    CHECK(facts.lead == 2000);
    CHECK(facts.trail == 3000);
    CHECK(facts.peak == 0);
    CHECK(facts.clipped == 2);
    CHECK(facts.first_clipped == 3000);
    CHECK(facts.longest_clipped == 7);
    double sum = 0;
    for (const float sample : samples) sum += sample;
    CHECK(facts.offset == Approx(sum / 10000).margin(1e-6));
    // In a quiet file, anything above 40 dB below its peak is audible.
    for (float& sample : samples) sample *= 0.0005f;
    work.write_wav("quiet.wav", samples);
    CHECK(facts_of(work.path() / "quiet.wav").lead == 2000);
}

TEST_CASE("Facts are kept, and measured again only where the content changed", "[facts]") {
    const ProjectFolder folder("[clip]\na = \"a.wav\"\n");
    folder.write_wav("a.wav", sine(440, 0.1, 4800));
    const auto cached = [&] { return folder.read(".kiai-facts.json"); };
    const auto loudness = [&](bool verify = false) {
        static_cast<void>(kiai::check_project(folder.path(), {.verify = verify, .keep_facts = true}));
        const auto entries = kiai::catalogue(folder.path(), {.kind = "clip"}).entries;
        for (const auto& [what, detail] : entries.at(0).details)
            if (what == "loudness") return std::get<double>(detail);
        return 0.0;
    };
    const double first = loudness();
    const std::string kept = cached();
    loudness();
    CHECK(cached() == kept); // nothing new, nothing written

    // Different content with the same size and time counts as the same, until it is verified.
    const auto time = std::filesystem::last_write_time(folder.path() / "a.wav");
    folder.write_wav("a.wav", sine(440, 0.01, 4800));
    std::filesystem::last_write_time(folder.path() / "a.wav", time);
    CHECK(loudness() == first);
    CHECK(loudness(true) == Approx(first - 20).margin(0.1));

    // A new time with the same content needs no measurement: the cached facts are used, even wrong ones.
    std::string tampered = cached();
    const auto at = tampered.find("\"coding\":");
    tampered.replace(at, tampered.find(',', at) - at, "\"coding\": \"tampered\"");
    folder.write(".kiai-facts.json", tampered);
    std::filesystem::last_write_time(folder.path() / "a.wav", time + std::chrono::hours(1));
    loudness();
    CHECK(cached().find("tampered") != std::string::npos);
    folder.write_wav("a.wav", sine(441, 0.01, 4800));
    std::filesystem::last_write_time(folder.path() / "a.wav", time + std::chrono::hours(2));
    loudness();
    CHECK(cached().find("tampered") == std::string::npos);

    // A cache that is broken, of another version or missing is ignored.
    for (const std::string broken :
         {"", "{", "[]", "{\"facts\": 99}", "{\"facts\": 1, \"version\": \"0\", \"files\": {}}",
          "{\"facts\": 1, \"version\": \"0.1.0\", \"files\": {\"a.wav\": {}}}"}) {
        folder.write(".kiai-facts.json", broken);
        CHECK(loudness() == Approx(first - 20).margin(0.1));
    }
}

TEST_CASE("A moved file is found again by its content, a wrong case by its name, and both are fixed", "[facts]") {
    const ProjectFolder folder(
        "[clip]\n# the first\noak = \"oak.wav\"   # stays\nash = { file = \"clips/Ash.wav\" }\nelm = 'elm.wav'\n"
        "[sound.s]\ntakes = [\"oak\", \"Ash\"]\n");
    folder.write_wav("oak.wav", sine(440, 0.1, 4800));
    folder.write_wav("clips/ash.wav", sine(441, 0.1, 4800));
    folder.write_wav("elm.flac", sine(442, 0.1, 4800));
    static_cast<void>(kiai::check_project(folder.path(), {.keep_facts = true})); // has seen oak where it was
    std::filesystem::create_directories(folder.path() / "trees");
    std::filesystem::rename(folder.path() / "oak.wav", folder.path() / "trees" / "plank.wav");

    const auto findings = kiai::check_project(folder.path()).findings;
    std::vector<std::string> replacement;
    for (const kiai::Finding& finding : findings)
        if (finding.severity == kiai::Severity::error) replacement.push_back(finding.replacement);
    CHECK(replacement == std::vector<std::string>{"trees/plank.wav", "clips/ash.wav", "", "ash"});

    const kiai::EditResult edited = kiai::fix_project(folder.path());
    REQUIRE(edited.ok());
    REQUIRE(edited.changes.size() == 3);
    CHECK(edited.changes[0].line == 4);
    CHECK(edited.changes[0].before == "oak = \"oak.wav\"   # stays");
    CHECK(edited.changes[0].after == "oak = \"trees/plank.wav\"   # stays");
    CHECK(folder.read("kiai.toml") ==
          "format = 1\n[clip]\n# the first\noak = \"trees/plank.wav\"   # stays\n"
          "ash = { file = \"clips/ash.wav\" }\nelm = 'elm.wav'\n[sound.s]\ntakes = [\"oak\", \"ash\"]\n");
    // A different extension may be a different recording, so the fix only asks.
    const auto left = kiai::load_project(folder.path()).findings;
    REQUIRE(left.size() == 1);
    CHECK(left[0].fix.find("\"elm.flac\" (different extension)") != std::string::npos);
    CHECK(kiai::fix_project(folder.path()).changes.empty());
}
