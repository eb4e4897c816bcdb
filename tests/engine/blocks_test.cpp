// The output is the same, bit for bit, at every block size.
#include "support/project_folder.h"
#include "support/run_tool.h"
#include "support/sanitized.h"

#include <catch2/catch.hpp>

#include <functional>
#include <random>

using namespace support;

namespace {

struct Output {
    std::vector<float> samples;
    std::vector<std::string> log;

    bool operator==(const Output&) const = default;
};

/// Renders the demo's whole trace in blocks of any sizes, with moving handles and gains.
Output in_blocks(const std::function<kiai::Frames()>& next_block) {
    const kiai::Trace trace = kiai::load_trace(demo() / "run.jsonl").trace;
    kiai::Engine engine(kiai::load_project(demo()).project, {.seed = 7, .voices = 64, .reports = 16384});
    Output output;
    engine.set_log([&](const kiai::Decision& decision) {
        output.log.push_back(std::to_string(decision.frame) + " " + kiai::describe(decision));
    });
    for (const kiai::TraceLine& line : trace.lines) REQUIRE(engine.report(line.report, line.due(48000)));
    const kiai::Frames length = 48000 * 30;
    std::vector<float> block;
    while (engine.now() < length) {
        const kiai::Frames frames = std::min(next_block(), length - engine.now());
        block.assign(static_cast<std::size_t>(frames) * 2, -1);
        engine.render(block);
        engine.poll();
        output.samples.insert(output.samples.end(), block.begin(), block.end());
    }
    return output;
}

} // namespace

TEST_CASE("The whole demo is the same in blocks of 1, 7, 64, 256, 4096 and random sizes", "[blocks]") {
    const Output reference = in_blocks([] { return kiai::Frames(512); });
    REQUIRE(peak(side(reference.samples, 0)) > 0.3);
    REQUIRE(reference.log.size() > 300);
    const std::vector<kiai::Frames> every{1, 7, 64, 256, 4096}, few{7, 4096};
    for (const kiai::Frames block : sanitized ? few : every) { // memory is used alike in the others
        INFO("blocks of " << block);
        const Output output = in_blocks([&] { return block; });
        CHECK(output.samples == reference.samples);
        CHECK(output.log == reference.log);
    }
    std::mt19937 dice(11);
    for (int round = 0; round < (sanitized ? 1 : 2); ++round)
        CHECK(in_blocks([&] { return static_cast<kiai::Frames>(1 + dice() % 700); }) == reference);
}

TEST_CASE("Fades and gain ramps are the same whatever the blocks", "[blocks]") {
    const kiai::Project project =
        project_of(sine(440, 0.4, 48000), "[sound.hum]\ntakes = [\"tone\"]\nloop = true\nvary = { pitch = 3 }\n");
    const auto play = [&](kiai::Frames block) {
        kiai::Engine engine(project, {.seed = 3});
        std::vector<float> all;
        const auto more = [&](kiai::Frames frames) {
            const std::vector<float> part = render(engine, frames, block);
            all.insert(all.end(), part.begin(), part.end());
        };
        kiai::Play first = engine.play("hum"), second = engine.play("tone");
        more(1000);
        first.set_gain(-12);
        more(200);
        first.set_gain(-3); // while the last is still on its way
        second.stop(std::chrono::milliseconds(30));
        more(3000);
        first.stop();
        more(4000);
        return all;
    };
    const std::vector<float> reference = play(500);
    for (const kiai::Frames block : {1, 3, 64, 100, 1000}) CHECK(play(block) == reference);
}

TEST_CASE("Unpitched plays are the same in blocks of whole cells and in others", "[blocks]") {
    // A stereo file of 16 bits, a mono one of 16 and a mono one of floats, looped with and without a crossfade.
    const ProjectFolder folder("[clip]\nfloats = \"floats.wav\"\nmono = \"mono.wav\"\nstereo = \"stereo.wav\"\n"
                               "[sound.turning]\ntakes = [\"mono\"]\nloop = { from = \"20 ms\", to = \"80 ms\" }\n"
                               "[sound.blended]\ntakes = [\"floats\"]\nloop = { crossfade = \"15 ms\" }\n");
    folder.write_wav("floats.wav", noise(0.1, 9000, 5));
    const auto interleaved = [](const Signal& side) {
        std::vector<float> both;
        for (const float sample : side) both.insert(both.end(), {sample, sample});
        return both;
    };
    REQUIRE(kiai::write_wav(folder.path() / "stereo.wav", interleaved(noise(0.1, 7000, 6)), 48000).empty());
    folder.write("mono.wav", wav_bytes(noise(0.1, 8000, 7)));
    const kiai::Project project = folder.load();
    const auto run = [&](kiai::Frames block, bool levels) {
        kiai::Engine engine(project, {.seed = 1, .record_levels = levels});
        Output output;
        engine.set_log([&](const kiai::Decision& decision) {
            output.log.push_back(std::to_string(decision.frame) + " " + kiai::describe(decision));
        });
        const auto at = [&](kiai::ReportKind kind, const std::string& name, kiai::Frames frame) {
            kiai::Report report;
            report.kind = kind;
            report.name = name;
            REQUIRE(engine.report(report, frame));
        };
        int when = 0;
        for (const char* sound : {"floats", "mono", "stereo", "turning", "blended", "mono", "floats"})
            at(kiai::ReportKind::play, sound, when += 517);
        at(kiai::ReportKind::pause, "turning", 9000);
        at(kiai::ReportKind::resume, "turning", 12800);
        at(kiai::ReportKind::stop, "blended", 20000);
        at(kiai::ReportKind::stop, "turning", 24320);
        output.samples = render(engine, 26000, block);
        engine.poll();
        return output;
    };
    const Output reference = run(64, true);
    REQUIRE(reference.log.size() >= 16);
    for (const kiai::Frames block : {1, 63, 64, 128, 256, 320, 1000}) {
        INFO("blocks of " << block);
        CHECK(run(block, false) == reference);
    }
}

TEST_CASE("A play due at a frame begins at that frame", "[blocks]") {
    const kiai::Project project = project_of(Signal(100, 0.5f));
    for (const kiai::Frames frame : {0, 1, 63, 64, 777, 4095}) {
        for (const kiai::Frames block : {1, 64, 4096}) {
            kiai::Engine engine(project, {.seed = 1});
            engine.report({kiai::ReportKind::play, "tone", {}, {}, 0, {}}, frame);
            const Signal out = side(render(engine, 5000, block), 0);
            const auto begin = static_cast<std::size_t>(frame + engine.latency());
            INFO("frame " << frame << ", blocks of " << block);
            CHECK((begin == 0 || out[begin - 1] == 0.0f));
            CHECK(out[begin] == 0.5f);
            CHECK(out[begin + 99] == 0.5f);
            CHECK(out[begin + 100] == 0.0f);
        }
    }
}
