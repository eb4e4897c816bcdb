// Buses of a project that changes while they sound.
#include "support/project_folder.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace support;

namespace {

const std::string sounds = "[sound.hum]\ntakes = ['tone']\nbus = 'low'\nloop = true\n"
                           "[sound.call]\ntakes = ['tone']\nbus = 'high'\ngain = -90\nloop = true\n";

struct Changed {
    explicit Changed(const std::string& buses, double frequency = 997)
        : samples(sine(frequency, 0.4, 48000)), engine(project_of(samples, buses + sounds), {.seed = 1}) {
        engine.play("hum");
        run(4800);
    }
    void change(const std::string& buses) { engine.set_project(project_of(samples, buses + sounds)); }
    void run(kiai::Frames frames) {
        const Signal more = side(render(engine, frames), 0);
        out.insert(out.end(), more.begin(), more.end());
        engine.poll();
    }
    /// Returns the level of the last 50 ms relative to the tone of the clip.
    double level() const { return db(rms(out, out.size() - 2400, out.size()) / rms(samples, 0, 2400)); }
    /// Returns the largest second difference beyond that of the tone at its loudest.
    double click() const {
        const double own = largest_inner_second_difference(samples);
        return db(std::max(1e-12, largest_inner_second_difference(Signal(out.begin() + 200, out.end())) - own));
    }
    Signal samples;
    kiai::Engine engine;
    Signal out;
};

} // namespace

TEST_CASE("A bus that goes into another one takes its plays and its settings along", "[buses][change]") {
    const std::string before = "[bus.low]\ninto = 'a'\n[bus.a]\ngain = -6\n[bus.b]\ngain = -12\n[bus.high]\n";
    Changed live(before);
    live.engine.set_bus_gain("low", -3);
    live.run(4800);
    CHECK(live.level() == Approx(-9).margin(0.02));
    live.change("[bus.low]\ninto = 'b'\n[bus.a]\ngain = -6\n[bus.b]\ngain = -12\n[bus.high]\n");
    live.run(4800);
    CHECK(live.level() == Approx(-15).margin(0.02));
    live.change(before);
    live.run(4800);
    CHECK(live.level() == Approx(-9).margin(0.02));
    live.engine.set_bus_gain("low", 0);
    live.run(4800);
    CHECK(live.level() == Approx(-6).margin(0.02));
    CHECK(live.click() <= -80);
}

TEST_CASE("A duck that is written, changed or taken out while a bus sounds moves the bus without a click",
          "[buses][change]") {
    const std::string none = "[bus.low]\n[bus.high]\n";
    const auto duck = [](int gain) {
        return "[bus.low]\nduck = { under = 'high', gain = " + std::to_string(gain) + " }\n[bus.high]\n";
    };
    Changed live(none);
    live.engine.play("call");
    const auto settle = [&](const std::string& buses) {
        live.change(buses);
        live.run(48000);
        return live.level();
    };
    CHECK(settle(duck(-6)) == Approx(-6).margin(0.02));
    CHECK(settle(duck(-12)) == Approx(-12).margin(0.02));
    CHECK(settle(none) == Approx(0).margin(0.02));
    CHECK(settle(duck(-9)) == Approx(-9).margin(0.02));
    CHECK(settle(duck(-9) + "gain = -1\n") == Approx(-9).margin(0.02));
    live.engine.stop("call");
    live.run(48000);
    CHECK(live.level() == Approx(0).margin(0.02));
    CHECK(live.click() <= -80);
}

TEST_CASE("A filter that is written or taken out while a bus sounds moves there, without a click", "[buses][change]") {
    for (const double frequency : {200.0, 4000.0}) {
        INFO(frequency << " Hz");
        Changed live("[bus.low]\n[bus.high]\n", frequency);
        const auto settle = [&](const std::string& filter) {
            live.change("[bus.low]\n" + filter + "[bus.high]\n");
            live.run(9600);
            return live.level();
        };
        const auto at = [&](double cutoff) { return -10 * std::log10(1 + std::pow(frequency / cutoff, 4)); };
        CHECK(settle("low-pass = 2000\n") == Approx(at(2000)).margin(0.3));
        CHECK(settle("low-pass = 500\n") == Approx(at(500)).margin(0.6));
        CHECK(settle("") == Approx(0).margin(0.001));
        CHECK(settle("high-pass = 100\n") == Approx(frequency < 1000 ? -0.263 : 0).margin(0.02));
        CHECK(settle("") == Approx(0).margin(0.001));
        CHECK(live.click() <= -60); // what a filter of another pitch does to a tone is no click
    }
}

TEST_CASE("A project that gets other buses again and again is still mixed and measured", "[buses][change]") {
    const auto buses = [](const std::string& prefix) {
        std::string text = "[bus.low]\n[bus.high]\n";
        for (int b = 0; b < 997; ++b) text += "[bus." + prefix + std::to_string(b) + "]\n";
        return text;
    };
    Changed live(buses("a"));
    for (const char* prefix : {"b", "c", "d"}) {
        live.change(buses(prefix));
        live.run(4800);
        CHECK(live.level() == Approx(0).margin(0.02));
        live.engine.bus_level("low");
        live.engine.bus_level(prefix + std::string("996"));
    }
    live.run(24000);
    CHECK(live.engine.bus_level("low").peak == Approx(0.4f).margin(0.001));
    CHECK(live.engine.bus_level("d996").peak == 0);
}
