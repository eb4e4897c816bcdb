// Variation: the output is as the project states, and nothing disturbs it.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

using namespace support;

namespace {

/// Makes a project of `takes` clips of one frame each, in a series.
kiai::Project series(int takes, const std::string& keys = {}, const std::string& more = {}) {
    std::string text = "[clip]\n";
    for (int i = 1; i <= takes; ++i) text += "t-" + std::to_string(i) + " = \"t.wav\"\n";
    text += "[sound.s]\ntakes = { series = \"t\" }\nlimit = { plays = 1000 }\n" + keys + "\n" + more;
    const ProjectFolder folder(text);
    folder.write_wav("t.wav", Signal(1, 0.1f));
    return folder.load();
}

std::vector<kiai::LayerTake> plays(const kiai::Project& project, int times, std::uint64_t seed,
                                   const std::string& sound = "s") {
    kiai::HearSettings settings;
    settings.times = times;
    settings.seed = seed;
    settings.gap = kiai::Seconds(0);
    std::vector<kiai::LayerTake> takes;
    for (const kiai::Decision& decision :
         with_outcome(kiai::hear(project, sound, settings).decisions, kiai::Outcome::played))
        takes.push_back(decision.layers.at(0));
    REQUIRE(static_cast<int>(takes.size()) == times);
    return takes;
}

/// Returns the Kolmogorov-Smirnov distance from the uniform distribution.
double distance_from_even(std::vector<double> values, double from, double to) {
    std::sort(values.begin(), values.end());
    double most = 0;
    const auto n = static_cast<double>(values.size());
    for (std::size_t i = 0; i < values.size(); ++i) {
        const double expected = (values[i] - from) / (to - from);
        most = std::max({most, std::abs(expected - static_cast<double>(i) / n),
                         std::abs(expected - static_cast<double>(i + 1) / n)});
    }
    return most;
}

} // namespace

TEST_CASE("shuffle plays each take once a round, and never the same twice in a row", "[chance]") {
    for (const int takes : {2, 3, 5, 9})
        for (const std::uint64_t seed : {1u, 2u, 77u}) {
            const auto heard = plays(series(takes), takes * 200, seed);
            for (std::size_t i = 1; i < heard.size(); ++i) REQUIRE(heard[i].clip != heard[i - 1].clip);
            for (std::size_t round = 0; round < 200; ++round) {
                std::set<std::string> seen;
                for (int i = 0; i < takes; ++i)
                    seen.insert(heard[round * static_cast<std::size_t>(takes) + static_cast<std::size_t>(i)].clip);
                REQUIRE(static_cast<int>(seen.size()) == takes);
            }
        }
}

TEST_CASE("shuffle with one take plays it each time", "[chance]") {
    for (const auto& take : plays(series(1), 20, 5)) CHECK(take.clip == "t-1");
}

TEST_CASE("Ten thousand plays pick each take at each place of a round alike", "[chance]") {
    const int takes = 5, rounds = 2000;
    const auto heard = plays(series(takes), takes * rounds, 42);
    std::map<std::pair<int, std::string>, int> counts; // place in the round, take
    for (std::size_t i = 0; i < heard.size(); ++i) ++counts[{static_cast<int>(i % takes), heard[i].clip}];
    double chi_square = 0;
    for (int place = 0; place < takes; ++place)
        for (int take = 1; take <= takes; ++take) {
            const double expected = rounds / static_cast<double>(takes),
                         difference = counts[{place, "t-" + std::to_string(take)}] - expected;
            chi_square += difference * difference / expected;
        }
    INFO("chi-square " << chi_square);
    CHECK(chi_square < 39.25); // 16 degrees of freedom, 0.1 %
}

TEST_CASE("Pitch and gain spread evenly over what is stated", "[chance]") {
    const auto heard = plays(series(1, "vary = { pitch = 2, gain = [-6, 1] }"), 10000, 9);
    std::vector<double> pitches, gains;
    double product = 0;
    for (const auto& take : heard) {
        pitches.push_back(take.pitch);
        gains.push_back(take.gain);
        product += static_cast<double>(take.pitch) * (take.gain + 2.5);
    }
    const double bound = 1.95 / std::sqrt(10000.0); // 0.1 %
    CHECK(distance_from_even(pitches, -2, 2) < bound);
    CHECK(distance_from_even(gains, -6, 1) < bound);
    CHECK(std::abs(product / 10000) < 0.1); // one does not follow the other
    CHECK(*std::min_element(pitches.begin(), pitches.end()) >= -2);
    CHECK(*std::max_element(pitches.begin(), pitches.end()) <= 2);
}

TEST_CASE("The same seed gives the same choices, another gives others", "[chance]") {
    const kiai::Project project = series(9, "vary = { pitch = 1 }");
    const auto names = [&](std::uint64_t seed) {
        std::vector<std::string> out;
        for (const auto& take : plays(project, 50, seed)) out.push_back(take.clip + std::to_string(take.pitch));
        return out;
    };
    CHECK(names(1) == names(1));
    CHECK(names(1) != names(2));
}

TEST_CASE("Another sound, a new spread or a refused play changes no other choice", "[chance]") {
    const auto clips = [](const std::vector<kiai::LayerTake>& takes) {
        std::vector<std::string> out;
        for (const auto& take : takes) out.push_back(take.clip);
        return out;
    };
    const auto plain = clips(plays(series(5), 30, 4));
    CHECK(clips(plays(series(5, "vary = { pitch = 3, gain = 4 }"), 30, 4)) == plain);
    CHECK(clips(plays(series(5, "", "[sound.other]\ntakes = { series = \"t\" }\n"), 30, 4)) == plain);

    kiai::Engine engine(series(5, "", ""), {.seed = 4});
    const ProjectFolder gapped("[clip]\n" + [] {
        std::string text;
        for (int i = 1; i <= 5; ++i) text += "t-" + std::to_string(i) + " = \"t.wav\"\n";
        return text;
    }() + "[sound.s]\ntakes = { series = \"t\" }\nlimit = { plays = 1000, gap = \"10 frames\" }\n");
    gapped.write_wav("t.wav", Signal(1, 0.1f));
    kiai::Engine refusing(gapped.load(), {.seed = 4});
    std::vector<kiai::LayerTake> heard;
    refusing.set_log([&](const kiai::Decision& decision) {
        if (decision.outcome == kiai::Outcome::played) heard.push_back(decision.layers[0]);
    });
    for (int i = 0; i < 300; ++i)
        refusing.report({kiai::ReportKind::play, "s", {}, {}, 0, {}}, i); // nine of ten are refused
    render(refusing, 400);
    refusing.poll();
    CHECK(clips(heard) == plain);
}

TEST_CASE("A live engine without a seed draws one, and reports it", "[chance]") {
    kiai::Engine first{kiai::Project()}, second{kiai::Project()};
    CHECK(first.seed() != second.seed());
    CHECK(kiai::Engine(kiai::Project(), {.seed = 12}).seed() == 12);
}
