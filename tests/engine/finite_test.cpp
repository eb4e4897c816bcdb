// The output of `render` is always finite and within ±1, whatever the project, the clips and the calls.
#include "support/bench.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <limits>
#include <random>

using namespace support;

namespace {

bool sane(const std::vector<float>& out) {
    return std::all_of(out.begin(), out.end(), [](float x) { return std::isfinite(x) && std::abs(x) <= 1; });
}

} // namespace

TEST_CASE("A glide that is paused and resumed stays within what it may read", "[finite]") {
    // Near the end of a loop, with the dial two octaves away when the play resumes.
    Signal samples = noise(0.5, 6500, 1);
    for (const kiai::Frames pause : {6379, 6400, 6427, 6428, 6429, 6463}) {
        Bench bench("[dial.d]\n[scope.g]\non = true\n[sound.s]\ntakes = [\"tone\"]\nloop = true\nfollow = [{ dial = "
                    "\"d\", target = \"pitch\", curve = [[0, -24], [1, 24]], smooth = \"0 ms\" }]\n" +
                        binding("notice = \"n\"", "play = \"s\"", "scope = \"g\""),
                    samples);
        const auto at = [&](kiai::ReportKind kind, const char* name, float value, kiai::Frames frame) {
            kiai::Report report;
            report.kind = kind, report.name = name, report.value = value;
            bench.engine.report(report, frame);
        };
        at(kiai::ReportKind::dial, "d", 1, 0);
        at(kiai::ReportKind::notice, "n", 0, 64);
        at(kiai::ReportKind::scope_pause, "g", 0, pause);
        at(kiai::ReportKind::dial, "d", 0, pause + 420);
        at(kiai::ReportKind::scope_resume, "g", 0, pause + 1000);
        at(kiai::ReportKind::dial, "d", 1, pause + 1040);
        at(kiai::ReportKind::scope_pause, "g", 0, pause + 1047);
        at(kiai::ReportKind::scope_resume, "g", 0, pause + 2113);
        CHECK(sane(render(bench.engine, 24000, 240)));
    }
}

TEST_CASE("Gains that add up to hundreds of dB, and samples far above full scale, stay within the output", "[finite]") {
    std::string lfos;
    for (int i = 0; i < 14; ++i) lfos += std::string(i ? ", " : "") + "{ target = \"gain\", rate = 1, depth = 60 }";
    Signal huge = sine(300, 1e30, 4800);
    huge[100] = 3e38f, huge[101] = -3e38f;
    Bench bench("[bus.b]\ngain = 24\n[sound.s]\ntakes = [\"tone\"]\nbus = \"b\"\ngain = 24\nloop = true\nlfo = [" +
                    lfos + "]\n[sound.p]\ntakes = [\"tone\"]\npitch = 0.5\n",
                huge);
    bench.engine.set_bus_gain("b", 24);
    bench.engine.set_bus_gain("main", 24);
    kiai::Play play = bench.engine.play("s", {.gain = 24});
    for (int i = 0; i < 20; ++i) bench.engine.play("p", {.gain = 24});
    CHECK(sane(render(bench.engine, 96000)));
    play.stop();
    CHECK(sane(render(bench.engine, 48000)));
    // The output recovers: what follows is unchanged.
    bench.engine.set_bus_gain("main", 0);
    static_cast<void>(render(bench.engine, 9600));
    CHECK(bench.engine.sounding() == 0);
    CHECK(peak(render(bench.engine, 4800)) == 0);
}

TEST_CASE("Samples that are no numbers are silence, from the app's own reader too", "[finite]") {
    Signal broken(4800, 0.1f);
    broken[7] = std::numeric_limits<float>::quiet_NaN();
    broken[8] = std::numeric_limits<float>::infinity();
    const ProjectFolder folder("[clip]\ngiven = { from-app = true }\n");
    const kiai::LoadResult loaded = kiai::load_project(folder.path(), {.samples = {{"given", {48000, 1, broken}}}});
    kiai::Engine engine(loaded.project, {.seed = 1});
    engine.play("given");
    engine.play("given", {.pitch = 3});
    CHECK(sane(render(engine, 9600)));
}
