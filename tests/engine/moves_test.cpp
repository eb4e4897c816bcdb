// What moves a sound while it plays: dials, values of a play, LFOs, balance; measured on the output.
#include "core/dsp/curve.h"
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>

using namespace support;

namespace {

using Act = std::function<void(kiai::Engine&, kiai::Play&)>;

/// Returns the left side of a play of `s`, without the latency; `act` is called after `at` frames.
Signal heard(const kiai::Project& project, kiai::Frames frames, kiai::Frames at = -1, const Act& act = {},
             kiai::Frames block = 256) {
    kiai::Engine engine(project, {.seed = 1});
    engine.set_log({});
    kiai::Play play = engine.play("s");
    if (at == 0) act(engine, play);
    Signal out = side(render(engine, at > 0 ? at : 0, block), 0);
    if (at > 0) act(engine, play);
    const Signal rest = side(render(engine, frames + engine.latency() - std::max<kiai::Frames>(0, at), block), 0);
    out.insert(out.end(), rest.begin(), rest.end());
    out.erase(out.begin(), out.begin() + engine.latency());
    return out;
}

kiai::Project constant(const std::string& sound, double level = 0.5) {
    return project_of(Signal(96000, static_cast<float>(level)),
                      sound.find("[sound.s]") == std::string::npos ? "[sound.s]\ntakes = [\"tone\"]\n" + sound : sound);
}

double largest_bend(const Signal& signal, std::size_t from, std::size_t to) {
    double most = 0;
    for (std::size_t i = from + 1; i + 1 < to; ++i)
        most = std::max(most, std::abs(signal[i + 1] - 2.0 * signal[i] + signal[i - 1]));
    return most;
}

/// Returns levels in dB, frame by frame.
Signal levels(const Signal& signal, double full) {
    Signal out;
    for (const float sample : signal) out.push_back(static_cast<float>(db(sample / full)));
    return out;
}

const char* by_dial = "follow = [{ dial = \"fill\", target = \"gain\", curve = [[0, -20], [1, 0]], smooth = \"100 ms\" "
                      "}]\n[dial.fill]\n";

} // namespace

TEST_CASE("A dial moves a gain in its time, without a step and without a click", "[moves]") {
    const kiai::Project project = constant(by_dial);
    const Act turn = [](kiai::Engine& engine, kiai::Play&) { engine.set_dial("fill", 1); };
    const Signal out = heard(project, 24000, 6000, turn);
    CHECK(out[5000] == Approx(0.05).epsilon(1e-5));
    CHECK(out[23000] == Approx(0.5).epsilon(1e-4));
    CHECK(db(out[6000 + 4800 + 96] / 0.5) == Approx(-2).margin(0.15)); // nine tenths of 20 dB after 100 ms
    for (std::size_t i = 6001; i < 23000; ++i) REQUIRE(out[i] >= out[i - 1] - 1e-7f);
    CHECK(db(largest_bend(out, 10, 23000)) <= -80);
    for (const kiai::Frames block : {1, 7, 64, 1000}) CHECK(heard(project, 24000, 6000, turn, block) == out);
}

TEST_CASE("A dial that jumps to and fro thirty times a second is still smooth", "[moves]") {
    const kiai::Project project = constant("follow = [{ dial = \"fill\", target = \"gain\", curve = [[0, -12], [1, "
                                           "0]] }]\n[dial.fill]\n");
    kiai::Engine engine(project, {.seed = 1});
    engine.play("s");
    std::vector<float> all;
    for (int i = 0; i < 30; ++i) {
        engine.set_dial("fill", static_cast<float>(i % 2));
        const auto part = render(engine, 1600);
        all.insert(all.end(), part.begin(), part.end());
    }
    const Signal out = side(all, 0);
    CHECK(db(largest_bend(out, 1000, out.size())) <= -70);
    CHECK(*std::max_element(out.begin() + 4000, out.end()) > 0.35f);
    CHECK(*std::min_element(out.begin() + 4000, out.end()) < 0.2f);
}

TEST_CASE("A value of one play moves that play alone, and holds from its first frame", "[moves]") {
    const kiai::Project project =
        constant("follow = [{ value = \"speed\", target = \"gain\", curve = [[0, -40], [2, 0]] "
                 "}]\n");
    kiai::Engine engine(project, {.seed = 1});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    kiai::Play fast = engine.play("s");
    fast.set("speed", 2);
    const Signal alone = side(render(engine, 1000), 0);
    CHECK(alone[static_cast<std::size_t>(engine.latency())] == 0.5f);
    kiai::Play slow = engine.play("s");
    slow.set("speed", 0);
    const Signal both = side(render(engine, 2000), 0);
    CHECK(both[1900] == Approx(0.5 + 0.005));
    slow.set("sped", 1);
    slow.set("speed", NAN);
    render(engine, 1000);
    engine.poll();
    REQUIRE(with_outcome(log, kiai::Outcome::unknown_value).size() == 1);
    const kiai::Decision wrong = with_outcome(log, kiai::Outcome::unknown_value)[0];
    CHECK(wrong.nearest == "speed");
    CHECK(describe(wrong) == "play-set: ignored: no follow of s has a value \"sped\"; did you mean \"speed\"?");
    CHECK(with_outcome(log, kiai::Outcome::bad_number).size() == 1);
    slow.stop();
    render(engine, 5000);
    slow.set("speed", 1); // it has ended: nothing
    render(engine, 100);
    engine.poll();
    CHECK(with_outcome(log, kiai::Outcome::unknown_value).size() == 1);
}

TEST_CASE("A dial keeps its range, and its name is looked up", "[moves]") {
    kiai::Engine engine(constant(by_dial), {.seed = 1});
    std::vector<kiai::Decision> log;
    engine.set_log([&](const kiai::Decision& decision) { log.push_back(decision); });
    engine.set_dial("fill", 1.5f);
    engine.set_dial("fil", 1);
    engine.set_dial("fill", NAN);
    engine.play("s");
    const Signal out = side(render(engine, 1000), 0);
    engine.poll();
    CHECK(out[900] == 0.5f); // held at its highest
    CHECK(with_outcome(log, kiai::Outcome::out_of_range).size() == 1);
    CHECK(with_outcome(log, kiai::Outcome::bad_number).size() == 1);
    REQUIRE(with_outcome(log, kiai::Outcome::unknown_name).size() == 1);
    CHECK(describe(with_outcome(log, kiai::Outcome::unknown_name)[0]) ==
          "dial: ignored: unknown dial \"fil\"; did you mean \"fill\"?");
}

TEST_CASE("An LFO on gain swings as deep and as fast as it says", "[moves]") {
    const Signal out = heard(constant("lfo = [{ target = \"gain\", rate = 4, depth = 6 }]\n", 0.25), 48000);
    const Fit fit = fit_sine(levels(out, 0.25), 4, 0, 48000);
    CHECK(fit.amplitude == Approx(6).epsilon(0.005));
    CHECK(fit.residue < 0.05); // dB; what a spline of three cells rounds off
    const Signal square =
        heard(constant("lfo = [{ target = \"gain\", rate = 2, depth = 6, shape = \"square\" }]\n", 0.25), 48000);
    CHECK(db(square[6000] / 0.25) == Approx(6).margin(1e-3));
    CHECK(db(square[18000] / 0.25) == Approx(-6).margin(1e-3));
    CHECK(db(largest_bend(square, 10, 47000)) <= -75);
    const Signal triangle = levels(
        heard(constant("lfo = [{ target = \"gain\", rate = 2, depth = 6, shape = \"triangle\" }]\n", 0.25), 48000),
        0.25);
    for (const std::size_t i : {3000u, 9000u, 12000u, 15000u}) // a line: half way at an eighth of a turn
        CHECK(triangle[i + 96] == Approx(i == 3000 ? 3 : i == 9000 ? 3 : i == 12000 ? 0 : -3).margin(0.12));
}

TEST_CASE("A random LFO goes smoothly to new places, others in each play", "[moves]") {
    const kiai::Project project =
        constant("lfo = [{ target = \"gain\", rate = 25, depth = 6, shape = \"random\" }]\n", 0.25);
    kiai::Engine engine(project, {.seed = 1});
    engine.play("s");
    const Signal first = levels(side(render(engine, 40000), 0), 0.25);
    engine.stop("s");
    render(engine, 4800);
    engine.play("s");
    const Signal second = levels(side(render(engine, 40000), 0), 0.25);
    double low = 0, high = 0, apart = 0;
    for (std::size_t i = 200; i < 39000; ++i) {
        low = std::min<double>(low, first[i]), high = std::max<double>(high, first[i]);
        apart = std::max<double>(apart, std::abs(first[i] - second[i]));
        REQUIRE(std::abs(first[i] - first[i - 1]) < 0.05);
    }
    CHECK(low < -3);
    CHECK(low >= -6.01);
    CHECK(high > 3);
    CHECK(high <= 6.01);
    CHECK(apart > 3);
}

TEST_CASE("A free LFO continues between plays, the other begins with each", "[moves]") {
    for (const bool free : {false, true}) {
        const kiai::Project project =
            constant(std::string("lfo = [{ target = \"gain\", rate = 1, depth = 6, phase = \"") +
                         (free ? "free" : "start") + "\" }]\n",
                     0.25);
        kiai::Engine engine(project, {.seed = 1});
        render(engine, 12000); // a quarter of a turn
        engine.play("s");
        const Signal out = side(render(engine, 2000), 0);
        CHECK(db(out[static_cast<std::size_t>(engine.latency())] / 0.25) == Approx(free ? 6 : 0).margin(0.01));
    }
}

TEST_CASE("An LFO on pitch bends a sine as its formula says, without noise", "[moves]") {
    const double depth = 1, rate = 5;
    const Signal clip = sine(1000, 0.5, 96000);
    const Signal out =
        heard(project_of(clip, "[sound.s]\ntakes = [\"tone\"]\nlfo = [{ target = \"pitch\", rate = 5, depth = "
                               "1 }]\n"),
              48000);
    // The position in the clip is the sum of the ratios.
    double place = 0;
    Signal ideal;
    for (std::size_t i = 0; i < 48000; ++i) {
        ideal.push_back(static_cast<float>(0.5 * std::sin(2 * pi * 1000 * place / 48000)));
        // The engine computes the value at every 64th frame, and the ratio moves linearly in between.
        const auto at = [&](std::size_t cell) {
            return std::exp2(depth / 12 * std::sin(2 * pi * rate * static_cast<double>(cell) * 64 / 48000));
        };
        const std::size_t cell = i / 64;
        const double part = static_cast<double>(i % 64) / 64;
        place += cell == 0 ? 1 : at(cell - 1) + (at(cell) - at(cell - 1)) * part;
    }
    // The interpolator's pass band is flat within a few hundredths of a dB, which a fitted gain compensates.
    double both = 0, own = 0, error = 0;
    for (std::size_t i = 200; i < ideal.size(); ++i) both += out[i] * ideal[i], own += ideal[i] * ideal[i];
    for (std::size_t i = 200; i < ideal.size(); ++i) error += std::pow(out[i] - both / own * ideal[i], 2);
    CHECK(db(both / own) == Approx(0).margin(0.02));
    CHECK(10 * std::log10(own / error) > 80);
    // Whatever the value, the pitch is smooth: nothing is between the sidebands of such a bend.
    CHECK(largest_bend(out, 300, 47000) < 1.02 * largest_bend(sine(1000 * std::exp2(1 / 12.0), 0.5, 4800), 0, 4800));
    for (const kiai::Frames block : {1, 63, 64, 1000}) {
        const Signal again =
            heard(project_of(clip, "[sound.s]\ntakes = [\"tone\"]\nlfo = [{ target = \"pitch\", rate = 5, "
                                   "depth = 1 }]\n"),
                  20000, -1, {}, block);
        CHECK(std::equal(again.begin(), again.end(), out.begin()));
    }
}

TEST_CASE("A dial sweeps the pitch over four octaves without a click", "[moves]") {
    const Signal clip = sine(300, 0.5, 480000);
    const kiai::Project project =
        project_of(clip, "[sound.s]\ntakes = [\"tone\"]\nfollow = [{ dial = \"turn\", target = "
                         "\"pitch\", curve = [[0, -24], [1, 24]], smooth = \"300 ms\" "
                         "}]\n[dial.turn]\n");
    const Signal out =
        heard(project, 110000, 9600, [](kiai::Engine& engine, kiai::Play&) { engine.set_dial("turn", 1); });
    CHECK(fit_sine(out, 75, 1000, 9000).snr_db() > 90);
    CHECK(fit_sine(out, 1200, 90000, 110000).snr_db() > 90);
    const double own = 0.5 * std::pow(2 * pi * 1200 / 48000, 2);
    CHECK(largest_bend(out, 200, 109000) <= own * 1.01);
}

TEST_CASE("The balance goes through the layers at constant power", "[moves]") {
    const ProjectFolder folder("[clip]\na = \"a.wav\"\nb = \"b.wav\"\nc = \"c.wav\"\n[sound.s]\nfollow = [{ value = "
                               "\"strength\", target = \"balance\", curve = [[0, 0], [1, 1]] }]\n"
                               "[[sound.s.layer]]\ntakes = [\"a\"]\n[[sound.s.layer]]\ntakes = [\"b\"]\n"
                               "[[sound.s.layer]]\ntakes = [\"c\"]\n");
    folder.write_wav("a.wav", Signal(4800, 0.1f));
    folder.write_wav("b.wav", Signal(4800, 0.01f));
    folder.write_wav("c.wav", Signal(4800, 0.001f));
    const kiai::Project project = folder.load();
    const auto at = [&](float strength) {
        kiai::Engine engine(project, {.seed = 1});
        engine.play("s", {.strength = strength});
        return side(render(engine, 1000), 0)[900];
    };
    const double half = std::sqrt(0.5);
    CHECK(at(0) == Approx(0.1));
    CHECK(at(0.5f) == Approx(0.01));
    CHECK(at(1) == Approx(0.001));
    CHECK(at(0.25f) == Approx(half * 0.11));
    CHECK(at(0.75f) == Approx(half * 0.011));
}

TEST_CASE("A curve passes its points, straight or smooth, and never swings past them", "[moves]") {
    const std::vector<kiai::dsp::Point> points{{-1, 4}, {0, 0}, {1, 0}, {2, 1}, {5, 1.5}, {6, -3}};
    const kiai::dsp::Curve straight(points, false), smooth(points, true);
    for (const auto& [x, y] : points) {
        CHECK(straight.at(x) == Approx(y).margin(1e-12));
        CHECK(smooth.at(x) == Approx(y).margin(1e-12));
    }
    CHECK(straight.at(1.5) == Approx(0.5));
    CHECK(straight.at(-9) == 4);
    CHECK(smooth.at(9) == -3);
    double last_slope = 0, worst = 0;
    for (double x = -1; x < 6; x += 0.001) {
        const double y = smooth.at(x), slope = (smooth.at(x + 0.001) - y) / 0.001;
        std::size_t i = 0;
        while (i + 2 < points.size() && x >= points[i + 1].first) ++i;
        REQUIRE(y >= std::min(points[i].second, points[i + 1].second) - 1e-12);
        REQUIRE(y <= std::max(points[i].second, points[i + 1].second) + 1e-12);
        if (x > -1) worst = std::max(worst, std::abs(slope - last_slope));
        last_slope = slope;
    }
    CHECK(worst < 0.05); // no bend: the straight one has one of 4 at 0
}

TEST_CASE("An LFO of the pan swings from one side to the other at constant power, without a click", "[moves]") {
    kiai::Engine engine(constant("lfo = [{ target = \"pan\", rate = 2, depth = 0.8 }]\n", 0.25), {.seed = 1});
    engine.play("s");
    std::vector<float> out = render(engine, 48000 + engine.latency());
    out.erase(out.begin(), out.begin() + engine.latency() * 2);
    const Signal left = side(out, 0), right = side(out, 1);
    const auto at = [](const Signal& signal, double turns) { // a cell later, as everything that moves
        return static_cast<double>(signal[static_cast<std::size_t>(turns * 24000) + 64]);
    };
    CHECK(at(left, 0.25) == Approx(0.25 * std::sqrt(0.2)).margin(1e-3));
    CHECK(at(right, 0.25) == Approx(0.25 * std::sqrt(1.8)).margin(1e-3));
    CHECK(at(left, 0.75) == Approx(0.25 * std::sqrt(1.8)).margin(1e-3));
    for (std::size_t i = 100; i < 47000; ++i)
        REQUIRE(left[i] * left[i] + right[i] * right[i] == Approx(2 * 0.25 * 0.25).epsilon(2e-3));
    CHECK(db(std::max(largest_bend(left, 10, 47000), largest_bend(right, 10, 47000))) <= -80);
}
