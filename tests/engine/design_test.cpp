// The design of a sound: picks, spreads, delays and chances are as the project states.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>
#include <map>

using namespace support;

namespace {

/// Makes clips a, b and c of one frame each, and a sound `s`.
kiai::Project project_with(const std::string& sound, std::size_t frames = 1) {
    const ProjectFolder folder("[clip]\na = \"a.wav\"\nb = \"b.wav\"\nc = \"c.wav\"\n" + sound);
    folder.write_wav("a.wav", Signal(frames, 0.1f));
    folder.write_wav("b.wav", Signal(frames, 0.2f));
    folder.write_wav("c.wav", Signal(frames, 0.4f));
    return folder.load();
}

std::vector<kiai::Decision> plays_of(const kiai::Project& project, int times, std::uint64_t seed = 7) {
    kiai::HearSettings settings;
    settings.times = times;
    settings.seed = seed;
    settings.gap = kiai::Seconds(0);
    return with_outcome(kiai::hear(project, "s", settings).decisions, kiai::Outcome::played);
}

std::map<std::string, int> counts_of(const std::vector<kiai::Decision>& plays) {
    std::map<std::string, int> counts;
    for (const kiai::Decision& play : plays)
        for (const kiai::LayerTake& layer : play.layers) ++counts[layer.clip];
    return counts;
}

/// Returns the share below x of the mean of three uniform draws in [0, 1] (Bates, n = 3).
double bates(double x) {
    const auto cube = [](double y) { return y > 0 ? y * y * y : 0; };
    return (cube(3 * x) - 3 * cube(3 * x - 1) + 3 * cube(3 * x - 2)) / 6;
}

/// Returns the Kolmogorov-Smirnov distance of values in [0, 1] from a distribution.
template<class Below>
double distance(std::vector<double> values, const Below& below) {
    std::sort(values.begin(), values.end());
    double most = 0;
    const auto n = static_cast<double>(values.size());
    for (std::size_t i = 0; i < values.size(); ++i)
        most = std::max({most, std::abs(below(values[i]) - static_cast<double>(i) / n),
                         std::abs(below(values[i]) - static_cast<double>(i + 1) / n)});
    return most;
}

constexpr int many = 10000;
const double ks_limit = 1.63 / std::sqrt(many); // one in a hundred is beyond it by chance; the seeds are fixed

} // namespace

TEST_CASE("weighted picks by weight, independently each time", "[design]") {
    const auto counts = counts_of(plays_of(
        project_with("[sound.s]\ntakes = [{ clip = \"a\", weight = 5 }, \"b\", { clip = \"c\", weight = 2 }]\npick = "
                     "\"weighted\"\nlimit = { plays = 1000 }\n"),
        many));
    double chi = 0;
    const std::pair<const char*, double> parts[] = {{"a", 5.0 / 8}, {"b", 1.0 / 8}, {"c", 2.0 / 8}};
    for (const auto& [clip, part] : parts) chi += std::pow(counts.at(clip) - part * many, 2) / (part * many);
    INFO("chi-square " << chi);
    CHECK(chi < 9.21); // two degrees of freedom, one in a hundred
    CHECK(chi > 0);
}

TEST_CASE("cycle plays its takes in their order", "[design]") {
    const auto plays = plays_of(project_with("[sound.s]\ntakes = [\"b\", \"a\", \"c\"]\npick = \"cycle\"\n"), 30);
    const char* const order[] = {"b", "a", "c"};
    for (std::size_t i = 0; i < plays.size(); ++i) CHECK(plays[i].layers.at(0).clip == order[i % 3]);
}

TEST_CASE("Spreads are even or a bell, of a layer or of the whole sound", "[design]") {
    const auto of = [](const std::string& vary, auto value) {
        std::vector<double> values;
        for (const kiai::Decision& play : plays_of(
                 project_with("[sound.s]\ntakes = [\"a\"]\nlimit = { plays = 1000 }\nvary = " + vary + "\n"), many))
            values.push_back(value(play.layers.at(0)));
        return values;
    };
    const auto pitch = [](const kiai::LayerTake& layer) { return (layer.pitch + 3) / 6; };
    const auto pan = [](const kiai::LayerTake& layer) { return (layer.pan + 0.5) / 1.5; };
    const auto delay = [](const kiai::LayerTake& layer) { return static_cast<double>(layer.delay) / 480; };
    const auto even = [](double x) { return x; };
    CHECK(distance(of("{ pitch = 3, distribution = \"bell\" }", pitch), bates) < ks_limit);
    CHECK(distance(of("{ pitch = 3, distribution = \"bell\" }", pitch), even) > 5 * ks_limit);
    CHECK(distance(of("{ pitch = 3 }", pitch), even) < ks_limit);
    CHECK(distance(of("{ pan = [-0.5, 1] }", pan), even) < ks_limit);
    CHECK(distance(of("{ delay = \"10 ms\" }", delay), even) < ks_limit + 1.0 / 480);
    const auto whole = plays_of(
        project_with("[sound.s]\nvary = { pitch = 3 }\n[[sound.s.layer]]\ntakes = [\"a\"]\n[[sound.s.layer]]\ntakes = "
                     "[\"b\"]\npitch = 1\nvary = { gain = 2 }\n"),
        100);
    for (const kiai::Decision& play : whole) {
        CHECK(play.layers.at(1).pitch == Approx(play.layers.at(0).pitch + 1).margin(1e-5));
        CHECK(play.layers.at(0).gain == 0);
    }
}

TEST_CASE("A layer begins after its delay, to the frame, whatever the blocks", "[design]") {
    const kiai::Project project = project_with(
        "[[sound.s.layer]]\ntakes = [\"a\"]\n[[sound.s.layer]]\ntakes = [\"b\"]\ndelay = \"1000 frames\"\n", 300);
    const auto heard = [&](kiai::Frames block) {
        kiai::Engine engine(project, {.seed = 1});
        engine.play("s");
        return side(render(engine, 2000, block), 0);
    };
    const Signal out = heard(256);
    kiai::Engine engine(project, {.seed = 1});
    const auto latency = static_cast<std::size_t>(engine.latency());
    for (std::size_t i = 0; i < 1900; ++i) {
        const float expected = i < 300 ? 0.1f : i >= 1000 && i < 1300 ? 0.2f : 0.0f;
        if (out[i + latency] != expected) FAIL("frame " << i << ": " << out[i + latency]);
    }
    for (const kiai::Frames block : {1, 7, 64, 999, 1000, 1001}) CHECK(heard(block) == out);
    const auto decisions = kiai::hear(project, "s").decisions;
    CHECK(with_outcome(decisions, kiai::Outcome::played).at(0).layers.at(1).delay == 1000);
    CHECK(with_outcome(decisions, kiai::Outcome::ended).at(0).length == 1300);
}

TEST_CASE("A play that is stopped before its delay is over ends without a sound", "[design]") {
    const auto stopped = [](const std::string& delay, double& loudest) {
        kiai::Engine engine(
            project_with("[sound.s]\ntakes = [\"a\"]\nlimit = { plays = 1, full = \"refuse\" }\n" + delay, 48000),
            {.seed = 1});
        std::vector<kiai::Decision> log;
        engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
        kiai::Play play = engine.play("s");
        loudest = peak(render(engine, 4800));
        engine.play("s"); // the one that waits counts
        play.stop(kiai::Seconds(0.01));
        loudest = std::max(loudest, peak(render(engine, 96000)));
        engine.poll();
        CHECK_FALSE(play.playing());
        CHECK(with_outcome(log, kiai::Outcome::refused_limit).size() == 1);
        REQUIRE(with_outcome(log, kiai::Outcome::ended).size() == 1);
        CHECK(with_outcome(log, kiai::Outcome::ended)[0].reason == kiai::EndReason::stopped);
        return with_outcome(log, kiai::Outcome::ended)[0].length;
    };
    double waiting = 0, heard = 0;
    const auto length = stopped("delay = \"1 s\"\n", waiting);
    CHECK(length == stopped("", heard));
    CHECK(waiting == 0);
    CHECK(heard > 0.09);
}

TEST_CASE("A layer is heard by its chance, and leaves the others' choices as they were", "[design]") {
    const std::string first = "[[sound.s.layer]]\ntakes = [\"a\", \"b\"]\nvary = { pitch = 1 }\n";
    const auto plays = plays_of(project_with(first + "[[sound.s.layer]]\ntakes = [\"c\"]\nchance = 0.25\n"), many);
    const double part = counts_of(plays)["c"] / static_cast<double>(many);
    CHECK(part == Approx(0.25).margin(3 * std::sqrt(0.25 * 0.75 / many)));
    const auto alone = plays_of(project_with(first), many);
    for (std::size_t i = 0; i < alone.size(); ++i) {
        REQUIRE(plays[i].layers.at(0).clip == alone[i].layers.at(0).clip);
        REQUIRE(plays[i].layers.at(0).pitch == alone[i].layers.at(0).pitch);
    }
}

TEST_CASE("A play of which no layer is heard is said, ends at once, and the next ones come", "[design]") {
    const kiai::Project project =
        project_with("[sound.s]\ntakes = [\"a\"]\nchance = 0.5\nlimit = { plays = 1, full = \"refuse\" }\n", 10);
    const auto plays = plays_of(project, 1000);
    REQUIRE(plays.size() == 1000);
    const auto silent =
        std::count_if(plays.begin(), plays.end(), [](const kiai::Decision& play) { return play.layers.empty(); });
    CHECK(silent > 430);
    CHECK(silent < 570);
    kiai::Engine engine(project_with("[sound.s]\ntakes = [\"a\"]\nchance = 0\nlimit = { plays = 1000 }\n"),
                        {.seed = 1});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    for (int i = 0; i < 3000; ++i) engine.play("s"); // more at one frame than the engine has plays
    CHECK(peak(render(engine, 1000)) == 0);
    engine.poll();
    CHECK(engine.sounding() == 0);
    CHECK(describe(with_outcome(log, kiai::Outcome::played).at(0)) == "play s: played s #1, without a layer (chance)");
    CHECK(with_outcome(log, kiai::Outcome::ended).size() == with_outcome(log, kiai::Outcome::played).size());
}

TEST_CASE("What begins inside a clip is the clip from there on, risen in without a click", "[design]") {
    for (const double frequency : {20.0, 100.0, 440.0, 997.0, 3000.0, 10000.0})
        for (const double phase : {0.0, 0.125, 0.25, 0.6}) {
            const Signal source = sine(frequency, 0.9, 48000, 48000, phase);
            const kiai::Project project =
                project_of(source, "[sound.inside]\ntakes = [\"tone\"]\nstart = \"12345 frames\"\n");
            const auto heard = kiai::hear(project, "inside");
            const Signal out = side(heard.samples, 0);
            REQUIRE(heard.length == 48000 - 12345);
            // At the cut end of the clip the limiter finds a peak between the frames.
            for (std::size_t i = 288; i < out.size() - 200; ++i)
                if (out[i] != source[12345 + i]) FAIL("frame " << i);
            const Signal begin(out.begin(), out.begin() + 4000), own(source.begin() + 100, source.begin() + 9000);
            double most = std::abs(static_cast<double>(begin[0])), sines = 0; // the step out of silence, too
            most = std::max(most, std::abs(begin[1] - 2.0 * begin[0]));
            for (std::size_t i = 1; i + 1 < begin.size(); ++i)
                most = std::max(most, std::abs(begin[i + 1] - 2.0 * begin[i] + begin[i - 1]));
            for (std::size_t i = 1; i + 1 < own.size(); ++i)
                sines = std::max(sines, std::abs(own[i + 1] - 2.0 * own[i] + own[i - 1]));
            INFO(frequency << " Hz, phase " << phase);
            CHECK(db(std::max(0.0, most - sines)) <= -80);
        }
}

TEST_CASE("A fade-in is a raised cosine of its length, whatever the blocks, also while the play is stopped",
          "[design]") {
    const kiai::Project project = project_of(
        Signal(9600, 0.5f), "[sound.soft]\ntakes = [\"tone\"]\nfade-in = \"4800 frames\"\ndelay = \"100 frames\"\n");
    const auto heard = [&](kiai::Frames block, bool stops) {
        kiai::Engine engine(project, {.seed = 1});
        kiai::Play play = engine.play("soft");
        Signal out = side(render(engine, 2400, block), 0);
        if (stops) play.stop(kiai::Seconds(0.02));
        const Signal rest = side(render(engine, 9600, block), 0);
        out.insert(out.end(), rest.begin(), rest.end());
        return out;
    };
    const Signal out = heard(256, false);
    const auto latency = static_cast<std::size_t>(kiai::Engine(project, {.seed = 1}).latency());
    for (std::size_t i = 0; i < 9600; ++i) {
        const double part = std::min(1.0, static_cast<double>(i) / 4800);
        CHECK(out[latency + 100 + i] == Approx(0.25 * (1 - std::cos(pi * part))).margin(1e-6));
    }
    for (const bool stops : {false, true})
        for (const kiai::Frames block : {1, 7, 100, 4801})
            CHECK(heard(block == 4801 ? 2400 : block, stops) == heard(256, stops));
    CHECK(peak(heard(256, true)) < 0.3);
}

TEST_CASE("A start is spread over the clip, and held within it", "[design]") {
    Signal steps(4800);
    for (std::size_t i = 0; i < steps.size(); ++i) steps[i] = 0.1f + 0.8f * static_cast<float>(i) / 4800;
    const kiai::Project project = project_of(steps, "[sound.s]\ntakes = [\"tone\"]\nvary = { start = [\"10 ms\", \"60 "
                                                    "ms\"] }\n[sound.late]\ntakes = [\"tone\"]\nstart = \"10 s\"\n");
    kiai::HearSettings settings;
    settings.times = 2000;
    settings.gap = kiai::Seconds(0);
    std::vector<double> starts;
    for (const kiai::Decision& ended : with_outcome(kiai::hear(project, "s", settings).decisions, kiai::Outcome::ended))
        starts.push_back((4800 - static_cast<double>(ended.length) - 480) / 2400);
    REQUIRE(starts.size() == 2000);
    CHECK(distance(starts, [](double x) { return x; }) < 1.63 / std::sqrt(2000.0));
    CHECK(kiai::hear(project, "late").length == 1);
}
