// Buses: their gains, filters and ducking, measured on the output.
#include "support/bench.h"
#include "support/signal.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <functional>

using namespace support;

namespace {

using std::chrono::milliseconds;

/// Two buses with one tone each: `low` is ducked under `high`.
const std::string two_buses = "[clip.other]\nfrom-app = true\n[bus.high]\n"
                              "[sound.hum]\ntakes = ['tone']\nbus = 'low'\nloop = true\n"
                              "[sound.voice]\ntakes = ['tone']\nbus = 'high'\ngain = -60\n";

/// Returns the level over 5 ms, which is at least one and a half periods of a tone of 300 Hz or more.
double level_at(const Signal& out, std::size_t at) {
    return db(rms(out, at, at + 480)) - db(std::sqrt(0.5));
}

struct Heard {
    explicit Heard(const std::string& text, const Signal& samples = sine(1000, 0.5, 48000))
        : engine(project_of(samples, text), {.seed = 1}) {
        engine.set_log([this](const kiai::Decision& decision) {
            if (decision.outcome != kiai::Outcome::ended && decision.outcome != kiai::Outcome::played)
                log.push_back(std::to_string(decision.frame) + " " + kiai::describe(decision));
        });
    }
    const Signal& run(kiai::Frames frames, kiai::Frames block = 256) {
        const Signal more = side(render(engine, frames, block), 0);
        out.insert(out.end(), more.begin(), more.end());
        engine.poll();
        return out;
    }
    std::size_t now() const { return static_cast<std::size_t>(engine.now()); }

    kiai::Engine engine;
    Signal out;
    std::vector<std::string> log;
};

const std::string ducked = "[bus.low]\nduck = { under = 'high', gain = -12, attack = '50 ms', release = '400 ms' }\n"
                           "[bus.high]\n[sound.hum]\ntakes = ['tone']\nbus = 'low'\nloop = true\n"
                           "[sound.call]\ntakes = ['tone']\nbus = 'high'\ngain = -80\nloop = true\n";

} // namespace

TEST_CASE("A bus steps back while another sounds, and returns", "[buses]") {
    Heard heard(ducked);
    heard.engine.play("hum");
    heard.run(4800);
    kiai::Play call = heard.engine.play("call");
    heard.run(4800);
    call.stop();
    heard.run(48000);
    const Signal& out = heard.out;
    const auto late = static_cast<std::size_t>(heard.engine.latency());
    CHECK(level_at(out, 4000) == Approx(db(0.5)).margin(0.02));
    CHECK(level_at(out, 4800 + 1200 - 240 + late) == Approx(db(0.5 * (1 + std::pow(10, -0.6)) / 2)).margin(0.2));
    CHECK(level_at(out, 4800 + 2400 + late) == Approx(db(0.5) - 12).margin(0.02));
    CHECK(level_at(out, 9600 + 1900 + late) == Approx(db(0.5) - 12).margin(0.02)); // 50 ms after the end it returns
    CHECK(level_at(out, 9600 + 2400 + 19200 + late) == Approx(db(0.5)).margin(0.02));
    CHECK(heard.log == std::vector<std::string>{"4800 ducked bus low by 12 dB under bus high",
                                                "9600 play-stop: stopped call #2",
                                                "12000 ended ducking of bus low under bus high"});
    CHECK(db(largest_inner_second_difference(Signal(out.begin() + 4700, out.end())) -
             largest_inner_second_difference(Signal(out.begin() + 2000, out.begin() + 4000))) <= -80);
}

TEST_CASE("Of several ducks the deepest counts, not the sum", "[buses]") {
    Heard heard("[bus.low]\nduck = [{ under = 'high', gain = -6 }, { under = 'higher', gain = '25 %' }]\n[bus.high]\n"
                "[bus.higher]\n[sound.hum]\ntakes = ['tone']\nbus = 'low'\nloop = true\n"
                "[sound.one]\ntakes = ['tone']\nbus = 'high'\ngain = -80\nloop = true\n"
                "[sound.two]\ntakes = ['tone']\nbus = 'higher'\ngain = -80\nloop = true\n");
    const auto level = [&] {
        heard.run(48000);
        return level_at(heard.out, heard.now() - 4800);
    };
    heard.engine.play("hum");
    const double full = level();
    kiai::Play one = heard.engine.play("one");
    CHECK(level() == Approx(full - 6).margin(0.02));
    kiai::Play two = heard.engine.play("two");
    CHECK(level() == Approx(full + db(0.25)).margin(0.02));
    two.stop();
    CHECK(level() == Approx(full - 6).margin(0.02));
    one.stop();
    CHECK(level() == Approx(full).margin(0.02));
}

TEST_CASE("What is paused or muted ducks nothing", "[buses]") {
    Heard heard(ducked);
    heard.engine.play("hum");
    kiai::Play call = heard.engine.play("call");
    const auto level = [&] {
        heard.run(48000);
        return std::round(level_at(heard.out, heard.now() - 4800) - db(0.5));
    };
    CHECK(level() == -12);
    call.pause();
    CHECK(level() == 0);
    call.resume();
    CHECK(level() == -12);
    heard.engine.mute_bus("high");
    CHECK(level() == 0);
    heard.engine.mute_bus("high", false);
    CHECK(level() == -12);
    call.stop();
    CHECK(level() == 0);
}

TEST_CASE("A play that ends by itself lets the bus return at the same frame whatever the blocks", "[buses][blocks]") {
    const std::string text = "[bus.low]\nduck = { under = 'high', gain = -9, attack = '10 ms', release = '20 ms' }\n"
                             "low-pass = 3000\nfollow = [{ dial = 'open', target = 'high-pass', curve = [[0, 10], [1, "
                             "900]] }]\n[bus.high]\ninto = 'upper'\n[bus.upper]\ngain = -2\n[dial.open]\n"
                             "[sound.hum]\ntakes = ['tone']\nbus = 'low'\nloop = true\n"
                             "[sound.call]\ntakes = ['tone']\nbus = 'high'\nlow-pass = '2 kHz'\n";
    const auto all = [&](kiai::Frames block) {
        Heard heard(text, sine(440, 0.4, 3000));
        heard.engine.play("hum");
        heard.run(1000, block);
        heard.engine.play("call", {.pitch = 2});
        heard.engine.set_dial("open", 1);
        heard.run(5000, block);
        heard.engine.set_bus_gain("upper", -10);
        heard.engine.play("call");
        heard.engine.set_dial("open", 0.2f);
        heard.run(12000, block);
        heard.engine.stop("hum");
        heard.run(9000, block);
        return std::pair(heard.out, heard.log);
    };
    const auto reference = all(512);
    CHECK(reference.second.size() == 4);
    for (const kiai::Frames block : {1, 7, 64, 100, 1024, 5000}) {
        INFO("blocks of " << block);
        const auto out = all(block);
        CHECK(out.first == reference.first);
        CHECK(out.second == reference.second);
    }
}

TEST_CASE("A low-pass and a high-pass of 12 dB per octave, on a bus and on a layer", "[buses][tone]") {
    const auto level = [](const std::string& filter, double frequency, bool on_bus) {
        Heard heard("[bus.b]\n" + (on_bus ? filter : "") + "\n[sound.s]\ntakes = ['tone']\nbus = 'b'\n" +
                        (on_bus ? "" : filter) + "\n",
                    sine(frequency, 0.5, 48000));
        heard.engine.play("s");
        heard.run(40000);
        return db(fit_sine(heard.out, frequency, 10000, 40000).amplitude / 0.5);
    };
    for (const bool on_bus : {true, false}) {
        INFO((on_bus ? "bus" : "layer"));
        CHECK(level("low-pass = 1000", 100, on_bus) == Approx(0).margin(0.01));
        CHECK(level("low-pass = '1 kHz'", 1000, on_bus) == Approx(-3.01).margin(0.02));
        CHECK(level("low-pass = 1000", 4000, on_bus) == Approx(-24.6).margin(0.6));
        CHECK(level("high-pass = '500 Hz'", 5000, on_bus) == Approx(0).margin(0.01));
        CHECK(level("high-pass = 500", 500, on_bus) == Approx(-3.01).margin(0.02));
        CHECK(level("high-pass = 500", 125, on_bus) == Approx(-24.1).margin(0.3));
        CHECK(level("low-pass = 20000\nhigh-pass = 10", 15000, on_bus) == Approx(0).margin(1e-6));
    }
}

TEST_CASE("An open filter, a bus at 0 dB and an idle one change no bit", "[buses][tone]") {
    const Signal samples = noise(0.4, 20000, 3);
    const auto out = [&](const std::string& text) {
        Heard heard(text, samples);
        heard.engine.play("s");
        return heard.run(22000);
    };
    const Signal plain = out("[sound.s]\ntakes = ['tone']\n");
    CHECK(out("[bus.a]\ninto = 'b'\n[bus.b]\nlow-pass = 20000\n[bus.c]\n[dial.d]\n[sound.s]\ntakes = ['tone']\n"
              "bus = 'a'\nhigh-pass = 10\n"
              "follow = [{ dial = 'd', target = 'low-pass', curve = [[0, 20000], [1, 100]] }]\n") == plain);
}

TEST_CASE("A filter follows a dial, a strength and a value of a play, without steps or ticks", "[buses][tone]") {
    const std::string curve = ", target = 'low-pass', curve = [[0, 400], [1, 20000]], smooth = '200 ms' }]\n";
    const auto sounds = [&](const std::string& follow, const std::function<void(kiai::Engine&, kiai::Play&)>& move) {
        Heard heard("[dial.open]\n[bus.b]\n" + follow, sine(2000, 0.5, 96000));
        kiai::Play play = heard.engine.play("s", {.strength = 0});
        heard.run(9600);
        move(heard.engine, play);
        heard.run(48000);
        return heard.out;
    };
    const std::string sound = "[sound.s]\ntakes = ['tone']\nbus = 'b'\n";
    const double closed = -20 * std::log10(std::sqrt(1 + std::pow(2000.0 / 400, 4)));
    const auto check = [&](const Signal& out) {
        CHECK(level_at(out, 8000) - db(0.5) == Approx(closed).margin(0.5));
        CHECK(level_at(out, 50000) - db(0.5) == Approx(0).margin(0.01));
        const Signal part(out.begin() + 4800, out.begin() + 40000);
        const double own = largest_inner_second_difference(Signal(out.begin() + 40000, out.begin() + 50000));
        CHECK(db(std::max(1e-12, largest_inner_second_difference(part) - own)) <= -80);
    };
    const auto dial = [](kiai::Engine& engine, kiai::Play&) { engine.set_dial("open", 1); };
    check(sounds("follow = [{ dial = 'open'" + curve + sound, dial));
    check(sounds(sound + "follow = [{ dial = 'open'" + curve, dial));
    check(sounds(sound + "follow = [{ value = 'speed'" + curve,
                 [](kiai::Engine&, kiai::Play& play) { play.set("speed", 1); }));
    const Signal soft = sounds(sound + "follow = [{ value = 'strength'" + curve, [](kiai::Engine&, kiai::Play&) {});
    CHECK(level_at(soft, 50000) - db(0.5) == Approx(closed).margin(0.5));
}

TEST_CASE("A filtered bus rings on after its last play, then costs nothing and is silent", "[buses][tone]") {
    Heard heard("[bus.b]\nlow-pass = 200\n[sound.s]\ntakes = ['tone']\nbus = 'b'\n", Signal(1000, 0.5f));
    heard.engine.play("s");
    heard.run(96000);
    const auto late = static_cast<std::size_t>(heard.engine.latency());
    CHECK(std::abs(heard.out[1000 + late + 20]) > 0.1f);
    CHECK(peak(Signal(heard.out.begin() + 90000, heard.out.end())) == 0);
}

TEST_CASE("A gain of a bus moves everything that is on it at once, ramped, and mutes", "[buses]") {
    Heard heard("[bus.a]\ninto = 'b'\n[bus.b]\ngain = -3\n[sound.hum]\ntakes = ['tone']\nbus = 'a'\nloop = true\n");
    heard.engine.play("hum");
    heard.run(4800);
    heard.engine.set_bus_gain("a", -6);
    heard.engine.set_bus_gain("b", 2, milliseconds(20));
    heard.run(4800);
    CHECK(level_at(heard.out, 9000) == Approx(db(0.5) - 3 - 6 + 2).margin(0.02));
    heard.engine.mute_bus("b");
    heard.run(4800);
    CHECK(peak(Signal(heard.out.end() - 2000, heard.out.end())) == 0);
    heard.engine.mute_bus("b", false);
    heard.run(4800);
    CHECK(level_at(heard.out, heard.now() - 1000) == Approx(db(0.5) - 7).margin(0.02));
    const double own = largest_inner_second_difference(Signal(heard.out.begin() + 2000, heard.out.begin() + 4000));
    CHECK(db(largest_inner_second_difference(Signal(heard.out.begin() + 2000, heard.out.end())) - own) <= -80);
}

TEST_CASE("The measured level of a play is with the gains of its buses", "[buses]") {
    Bench bench(
        "[bus.a]\ninto = 'b'\ngain = -4\n[bus.b]\ngain = -2\n[sound.one]\ntakes = ['tone']\nbus = 'a'\n"
        "[[sound.two.layer]]\ntakes = ['tone']\n[[sound.two.layer]]\ntakes = ['tone']\n[sound.two]\nbus = 'a'\n",
        sine(1000, 0.25, 9600));
    const auto level = [&](const char* name) {
        bench.engine.play(name);
        return static_cast<double>(with_outcome(bench.everything(12000), kiai::Outcome::ended).at(0).level);
    };
    CHECK(level("one") == Approx(db(0.25) - 6).margin(0.02));
    CHECK(level("two") == Approx(db(0.5) - 6).margin(0.02));
    bench.engine.set_bus_gain("b", -20);
    bench.everything(1000);
    CHECK(level("one") == Approx(db(0.25) - 26).margin(0.02));
    bench.engine.mute_bus("a");
    bench.everything(1000);
    CHECK(level("two") == Approx(-200));
}

TEST_CASE("What a bus cannot be ducked under, or follow, is found", "[buses]") {
    const auto finding = [](const std::string& text) {
        const kiai::LoadResult loaded = ProjectFolder(text).load_with_findings();
        REQUIRE(loaded.findings.size() == 1);
        return loaded.findings[0].message + "; " + loaded.findings[0].fix;
    };
    CHECK(finding("[bus.a]\nduck = { under = 'main', gain = -6 }\n") ==
          "bus \"a\": cannot be ducked under \"main\", which is on its own path to main; duck it under a bus "
          "on another path");
    CHECK(finding("[bus.a]\ninto = 'b'\n[bus.b]\nduck = { under = 'a', gain = -6 }\n").find("its own path") !=
          std::string::npos);
    CHECK(finding("[bus.a]\nduck = { under = 'hihg', gain = -6 }\n[bus.high]\n").find("did you mean \"high\"") !=
          std::string::npos);
    CHECK(finding("[bus.a]\nduck = { under = 'b' }\n[bus.b]\n").find("gain = -6") != std::string::npos);
    CHECK(finding("[bus.a]\nlow-pass = 'bright'\n").find("\"6 kHz\"") != std::string::npos);
    CHECK(finding("[bus.a]\nlow-pass = 4\n").find("10 to 20000 Hz") != std::string::npos);
    CHECK(finding("[dial.d]\n[bus.a]\nfollow = [{ dial = 'd', target = 'gain', curve = [[0, 0], [1, 1]] }]\n")
              .find("moves only filters") != std::string::npos);
}
