// The same output, bit for bit, whatever the blocks.
#include "support/project_folder.h"
#include "support/run_tool.h"

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

/// The demo's whole trace in blocks of any sizes, with handles and gains moving meanwhile.
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
    for (const kiai::Frames block : {1, 7, 64, 256, 4096}) {
        INFO("blocks of " << block);
        const Output output = in_blocks([&] { return block; });
        CHECK(output.samples == reference.samples);
        CHECK(output.log == reference.log);
    }
    std::mt19937 dice(11);
    for (int round = 0; round < 2; ++round)
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
