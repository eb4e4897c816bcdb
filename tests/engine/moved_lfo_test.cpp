// LFOs with moving depth and rate, weighted picks without repeats, random intervals, gaps of buses, labels.
#include "support/bench.h"
#include "support/signal.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <map>

using namespace support;

namespace {

std::string vibrato(const std::string& follow, const std::string& more = {}) {
    return "[dial.speed]\n[sound.s]\ntakes = ['tone']\nloop = true\n"
           "lfo = [{ target = 'gain', rate = 2, depth = 0" +
           more + ", follow = [" + follow + "] }]\n";
}

/// Returns the level of each cell in dB relative to the clip.
std::vector<double> levels(kiai::Engine& engine, kiai::Frames frames) {
    const Signal out = side(render(engine, frames), 0);
    std::vector<double> all;
    for (std::size_t at = 0; at + 96 <= out.size(); at += 96) all.push_back(db(rms(out, at, at + 96) / 0.2));
    return all;
}

double span(const std::vector<double>& values) {
    const auto [low, high] = std::minmax_element(values.begin(), values.end());
    return *high - *low;
}

/// Returns how often the values cross their middle upwards.
int turns(const std::vector<double>& values) {
    int count = 0;
    for (std::size_t i = 1; i < values.size(); ++i) count += values[i - 1] < 0 && values[i] >= 0 ? 1 : 0;
    return count;
}

} // namespace

TEST_CASE("The depth of an LFO follows a dial, a value of the play or the trigger, without a step", "[design]") {
    const Signal steady(48000, 0.2f);
    SECTION("a dial") {
        kiai::Engine engine(
            project_of(steady, vibrato("{ dial = 'speed', target = 'depth', curve = [[0, 0], [1, 6]] }")), {.seed = 1});
        engine.play("s");
        levels(engine, 4800);
        CHECK(span(levels(engine, 48000)) < 0.01);
        engine.set_dial("speed", 0.5f);
        levels(engine, 9600);
        CHECK(span(levels(engine, 48000)) == Approx(6).margin(0.2));
        engine.set_dial("speed", 1);
        levels(engine, 9600);
        CHECK(span(levels(engine, 48000)) == Approx(12).margin(0.2));
    }
    SECTION("a value of the play") {
        kiai::Engine engine(
            project_of(steady, vibrato("{ value = 'wobble', target = 'depth', curve = [[0, 0], [1, 6]] }")),
            {.seed = 1});
        kiai::Play play = engine.play("s");
        play.set("wobble", 1);
        levels(engine, 9600);
        CHECK(span(levels(engine, 48000)) == Approx(12).margin(0.2));
    }
    SECTION("the trigger") {
        kiai::Engine engine(
            project_of(steady, vibrato("{ value = 'strength', target = 'depth', curve = [[0, 0], [1, 6]] }")),
            {.seed = 1});
        engine.play("s", {.strength = 0.5f});
        levels(engine, 4800);
        CHECK(span(levels(engine, 48000)) == Approx(6).margin(0.2));
    }
}

TEST_CASE("The rate of an LFO follows a dial, and its turns continue from where they were", "[design]") {
    kiai::Engine engine(
        project_of(Signal(48000, 0.2f),
                   vibrato("{ dial = 'speed', target = 'rate', curve = [[0, 0], [1, 8]], smooth = '0 ms' }, "
                           "{ value = 'strength', target = 'depth', curve = [[0, 3], [1, 3]] }")),
        {.seed = 1});
    engine.play("s");
    CHECK(turns(levels(engine, 96000)) == 4);
    engine.set_dial("speed", 1);
    const std::vector<double> fast = levels(engine, 96000);
    CHECK(turns(fast) >= 19);
    CHECK(turns(fast) <= 21);
    double most = 0; // from cell to cell
    for (std::size_t i = 1; i < fast.size(); ++i) most = std::max(most, std::abs(fast[i] - fast[i - 1]));
    CHECK(most < 3 * 2 * 3.15 * 10 * 96 / 48000 * 1.2);
}

TEST_CASE("An LFO's follows are checked, and other follows do not move an LFO", "[design]") {
    const auto message = [](const std::string& text) {
        const ProjectFolder folder("[clip]\ntone = 'tone.wav'\n" + text);
        folder.write_wav("tone.wav", Signal(100, 0.1f));
        const kiai::LoadResult loaded = folder.load_with_findings();
        return loaded.findings.size() == 1 ? loaded.findings[0].message : std::to_string(loaded.findings.size());
    };
    CHECK(message(vibrato("{ dial = 'speed', target = 'gain', curve = [[0, 0], [1, 6]] }"))
              .find("a follow of an LFO moves only depth and rate") != std::string::npos);
    CHECK(message(vibrato("{ dial = 'speed', target = 'rate', curve = [[0, 0], [1, 6]] }", ", phase = 'free'"))
              .find("always starts with the play") != std::string::npos);
    CHECK(message("[dial.speed]\n[sound.s]\ntakes = ['tone']\n"
                  "follow = [{ dial = 'speed', target = 'depth', curve = [[0, 0], [1, 6]] }]\n")
              .find("only an LFO has a depth and a rate") != std::string::npos);
}

TEST_CASE("A weighted pick without repeats never gives a take twice in a row, and keeps the weights", "[chance]") {
    std::string text = "[clip]\n";
    for (const char* clip : {"a", "b", "c"}) text += std::string(clip) + " = 'tone.wav'\n";
    text += "[sound.s]\ntakes = [{ clip = 'a', weight = 6 }, { clip = 'b', weight = 3 }, { clip = 'c', weight = 1 }]\n"
            "pick = 'weighted'\nrepeats = false\nlimit = { plays = 1000 }\n";
    const ProjectFolder folder(text);
    folder.write_wav("tone.wav", Signal(1, 0.1f));
    kiai::Engine engine(folder.load(), {.seed = 5, .reports = 16384});
    std::map<std::string, std::map<std::string, int>> after;
    std::string last;
    int same = 0, count = 0;
    engine.set_log([&](const kiai::Decision& decision) {
        if (decision.outcome != kiai::Outcome::played) return;
        const std::string& clip = decision.layers.at(0).clip;
        same += clip == last ? 1 : 0;
        if (!last.empty()) ++after[last][clip];
        last = clip;
        ++count;
    });
    for (int i = 0; i < 12000; ++i) {
        engine.play("s");
        render(engine, 64);
        engine.poll();
    }
    CHECK(count == 12000);
    CHECK(same == 0);
    const auto share = [&](const char* from, const char* to) {
        double all = 0;
        for (const auto& [clip, times] : after[from]) all += times;
        return after[from][to] / all;
    };
    CHECK(share("a", "b") == Approx(0.75).margin(0.02));
    CHECK(share("b", "a") == Approx(6 / 7.0).margin(0.02));
    CHECK(share("c", "b") == Approx(1 / 3.0).margin(0.04));
}

TEST_CASE("Timers and waits at random intervals stay within them, evenly, and come again with the seed", "[chance]") {
    const std::string text = "[sound.t]\ntakes = ['tone']\n[sequence.q]\nsteps = [{ repeat = 0, steps = ["
                             "{ play = 't' }, { wait = ['100 ms', '300 ms'] }] }]\n" +
                             binding("every = ['50 ms', '150 ms']", "notice = 'tick'") +
                             binding("notice = 'tick'", "nothing = true") + binding("start = true", "run = 'q'");
    const auto times = [&](std::uint64_t seed, kiai::Frames block, const char* of) {
        kiai::Engine engine(project_of(Signal(10, 0.1f), text), {.seed = seed, .decide_only = true});
        std::vector<kiai::Frames> frames;
        engine.set_log([&](const kiai::Decision& decision) {
            const bool tick = decision.outcome == kiai::Outcome::done && decision.trigger == kiai::ReportKind::every;
            const bool play = decision.outcome == kiai::Outcome::played;
            if (*of == 't' ? tick : play) frames.push_back(decision.frame);
        });
        for (int i = 0; i < 100; ++i) {
            render(engine, 48000, block);
            engine.poll();
        }
        return frames;
    };
    for (const char* of : {"ticks", "plays"}) {
        INFO(of);
        const double low = *of == 't' ? 2400 : 4800, high = *of == 't' ? 7200 : 14400;
        const std::vector<kiai::Frames> all = times(1, 256, of);
        REQUIRE(all.size() > 400);
        double sum = 0, least = 1e9, most = 0;
        for (std::size_t i = 1; i < all.size(); ++i) {
            const auto step = static_cast<double>(all[i] - all[i - 1]);
            sum += step, least = std::min(least, step), most = std::max(most, step);
        }
        CHECK(least >= low - 1);
        CHECK(most <= high + 1);
        CHECK(least < low + 0.05 * (high - low));
        CHECK(most > high - 0.05 * (high - low));
        CHECK(sum / static_cast<double>(all.size() - 1) == Approx((low + high) / 2).epsilon(0.03));
        CHECK(times(1, 1000, of) == all);
        CHECK(times(2, 256, of) != all);
    }
}

TEST_CASE("A bus has a gap of its own, which of contacts at one frame the strongest passes", "[limits]") {
    const std::string text = "[bus.low]\nlimit = { gap = '20 ms' }\n"
                             "[sound.a]\ntakes = ['tone']\nbus = 'low'\n[sound.b]\ntakes = ['tone']\nbus = 'low'\n"
                             "[sound.c]\ntakes = ['tone']\n" +
                             binding("contact = ['x', 'a']", "play = 'a'") +
                             binding("contact = ['x', 'b']", "play = 'b'");
    Bench bench(text);
    kiai::Engine& engine = bench.engine;
    engine.play("a");
    engine.play("b");
    engine.play("c");
    const auto decided = bench.decided(480);
    REQUIRE(decided.size() == 3);
    CHECK(describe(decided[0]).starts_with("play a: played a"));
    CHECK(describe(decided[1]) == "play b: refused b: gap of bus low (0 ms, minimum 20 ms)");
    CHECK(decided[1].limit->name == "low");
    CHECK(describe(decided[2]).starts_with("play c: played c"));
    engine.play("b");
    CHECK(bench.told(480) == "refused-gap b");
    engine.play("b");
    CHECK(bench.told(4800) == "played b");
    engine.contact("x", "a", {.strength = 0.2f});
    engine.contact("x", "b", {.strength = 0.8f});
    CHECK(bench.told(4800) == "played a, stolen a, played b");
    engine.contact("x", "b", {.strength = 0.8f});
    engine.contact("x", "a", {.strength = 0.2f});
    CHECK(bench.told(4800) == "played b, refused-gap a");
    // The gap continues through a project change.
    engine.play("a");
    bench.decided(100);
    engine.set_project(project_of(Signal(1000, 0.1f), text + "\n# changed\n"));
    engine.play("a");
    CHECK(bench.told(10) == "changed, refused-gap a");
}

TEST_CASE("The label of a layer is in the log", "[design]") {
    Bench bench("[[sound.s.layer]]\nlabel = 'body'\ntakes = ['tone']\n[[sound.s.layer]]\ntakes = ['tone']\n");
    bench.engine.play("s");
    REQUIRE(bench.decided().size() == 1);
    CHECK(bench.log[0].layers.at(0).label == "body");
    CHECK(bench.log[0].layers.at(1).label == "");
    CHECK(describe(bench.log[0]) == "play s: played s #1, body: tone +0.00 st +0.00 dB with tone +0.00 st +0.00 dB");
}

TEST_CASE("A number that looks like another unit is a note, and still holds", "[design]") {
    const auto notes = [](const std::string& text) {
        const ProjectFolder folder("[clip]\ntone = 'tone.wav'\n[sound.s]\ntakes = ['tone']\n" + text);
        folder.write_wav("tone.wav", Signal(100, 0.1f));
        std::string all;
        for (const kiai::Finding& finding : folder.load_with_findings().findings)
            all += to_string(finding).substr(to_string(finding).find(": ") + 2) + "\n";
        return all;
    };
    CHECK(notes("gain = 0.5\n") ==
          "note: sound \"s\": `gain = 0.5` raises the level by 0.5 dB [other-unit]; if 50 per cent of the level was "
          "meant, write \"50 %\", which is -6.0 dB\n");
    CHECK(notes("vary = { pitch = [0.9, 1.1] }\n") ==
          "note: sound \"s\", vary: `pitch = [0.9, 1.1]` is in semitones and raises every play "
          "[other-unit]; if these are speeds, write pitch = [-1.8, 1.7]\n");
    for (const char* fine : {"gain = -0.5\n", "gain = 1\n", "gain = '50 %'\n", "gain = '0.5 dB'\n",
                             "vary = { pitch = [-0.9, 1.1] }\n", "vary = { pitch = 0.9 }\n", "pitch = 0.9\n"})
        CHECK(notes(fine) == "");
}
