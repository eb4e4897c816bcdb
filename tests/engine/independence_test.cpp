// Chance favours nothing: takes at every place of a round, and random LFOs of layers, sounds and plays.
#include "support/bench.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <map>

using namespace support;
using kiai::Outcome;

namespace {

double correlation(const Signal& a, const Signal& b) {
    double mean_a = 0, mean_b = 0, both = 0, of_a = 0, of_b = 0;
    for (std::size_t i = 0; i < a.size(); ++i) mean_a += a[i], mean_b += b[i];
    mean_a /= static_cast<double>(a.size()), mean_b /= static_cast<double>(b.size());
    for (std::size_t i = 0; i < a.size(); ++i) {
        both += (a[i] - mean_a) * (b[i] - mean_b);
        of_a += (a[i] - mean_a) * (a[i] - mean_a);
        of_b += (b[i] - mean_b) * (b[i] - mean_b);
    }
    return both / std::sqrt(of_a * of_b);
}

/// Returns the level of each side in steps of 10 ms, in dB.
std::pair<Signal, Signal> levels(const std::vector<float>& out) {
    std::pair<Signal, Signal> all;
    for (std::size_t from = 2 * 480; from + 2 * 480 <= out.size(); from += 2 * 480) {
        all.first.push_back(static_cast<float>(db(std::abs(out[from]) + 1e-9)));
        all.second.push_back(static_cast<float>(db(std::abs(out[from + 1]) + 1e-9)));
    }
    return all;
}

} // namespace

TEST_CASE("Shuffle favours no take at any place of a round", "[shuffle][quality]") {
    for (const int takes : {2, 3, 4, 9}) {
        std::string text = "[clip]\n", list;
        const ProjectFolder folder;
        for (int t = 0; t < takes; ++t) {
            const std::string name = "t" + std::to_string(t);
            text += name + " = \"tone.wav\"\n";
            list += (t ? ", \"" : "\"") + name + "\"";
        }
        folder.write_wav("tone.wav", Signal(8, 0.1f));
        folder.toml(text + "[sound.s]\ntakes = [" + list + "]\nlimit = { plays = 1000 }\n");
        constexpr int plays = 30000;
        kiai::Engine engine(folder.load(), {.seed = 7});
        std::vector<int> heard;
        engine.set_log([&](const kiai::Decision& d) {
            if (d.outcome == Outcome::played) heard.push_back(d.layers.at(0).number - 1);
        });
        for (int i = 0; i < plays / 100; ++i) {
            for (int k = 0; k < 100; ++k) engine.play("s");
            static_cast<void>(render(engine, 64));
            engine.poll();
        }
        REQUIRE(heard.size() == plays);
        // Counted by the take `back` plays before the first of a round. The last take of a round never comes first in
        // the next, and is equally likely at every other place.
        std::vector<double> place_of_last(static_cast<std::size_t>(takes));
        std::map<std::vector<int>, double> rounds;
        int repeats = 0;
        for (std::size_t i = 1; i < heard.size(); ++i) repeats += heard[i] == heard[i - 1] ? 1 : 0;
        CHECK(repeats == 0);
        const auto size = static_cast<std::size_t>(takes);
        std::size_t count = 0;
        for (std::size_t r = size; r + size <= heard.size(); r += size, ++count)
            for (std::size_t p = 0; p < size; ++p)
                if (heard[r + p] == heard[r - 1]) ++place_of_last[p];
        CHECK(place_of_last[0] == 0);
        const double expected = static_cast<double>(count) / (takes - 1);
        double chi = 0;
        for (std::size_t p = 1; p < size; ++p)
            chi += (place_of_last[p] - expected) * (place_of_last[p] - expected) / expected;
        INFO(takes << " takes, chi squared " << chi);
        // p > 0.001 with takes - 2 degrees of freedom, by Wilson and Hilferty.
        const double freedom = takes - 2;
        if (freedom > 0) {
            const double part = 2 / (9 * freedom);
            CHECK(chi < freedom * std::pow(1 - part + 3.0902 * std::sqrt(part), 3));
        }
        // Each take is equally likely at each place of a round.
        std::vector<double> at(size * size);
        for (std::size_t r = 0; r + size <= heard.size(); r += size)
            for (std::size_t p = 0; p < size; ++p) ++at[p * size + static_cast<std::size_t>(heard[r + p])];
        const double even = static_cast<double>(heard.size() / size) / takes;
        for (const double one : at) // of two the one after the other is the only order there is
            if (takes > 2) CHECK(std::abs(one - even) < 5 * std::sqrt(even));
    }
}

TEST_CASE("Random LFOs of two layers, two sounds and two plays have nothing to do with each other", "[lfo]") {
    const std::string lfo = "lfo = [{ target = \"gain\", shape = \"random\", rate = 7, depth = 6 }]\n";
    const std::string layer = "takes = [\"tone\"]\nloop = true\n" + lfo;
    const auto of = [&](const std::string& text, const std::vector<std::pair<const char*, float>>& plays) {
        Bench bench(text, Signal(4800, 0.05f));
        for (const auto& [name, pan] : plays) bench.engine.play(name, {.pan = pan});
        return levels(render(bench.engine, 48000 * 60));
    };
    const auto layers =
        of("[[sound.s.layer]]\npan = -1\n" + layer + "[[sound.s.layer]]\npan = 1\n" + layer, {{"s", 0}});
    CHECK(std::abs(correlation(layers.first, layers.second)) < 0.2);
    const auto sounds = of("[sound.a]\n" + layer + "[sound.b]\n" + layer, {{"a", -1}, {"b", 1}});
    CHECK(std::abs(correlation(sounds.first, sounds.second)) < 0.2);
    const auto plays = of("[sound.a]\n" + layer, {{"a", -1}, {"a", 1}});
    CHECK(std::abs(correlation(plays.first, plays.second)) < 0.2);
    // An LFO of a whole sound moves its layers together.
    const std::string plain = "takes = [\"tone\"]\nloop = true\n";
    const auto whole =
        of("[sound.s]\n" + lfo + "[[sound.s.layer]]\npan = -1\n" + plain + "[[sound.s.layer]]\npan = 1\n" + plain,
           {{"s", 0}});
    CHECK(correlation(whole.first, whole.second) > 0.99);
}
