// A moving pitch causes no tick when it needs another filter.
#include "support/bench.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace support;

namespace {

/// Returns the loudest sample below `edge` Hz, far below the tone: a windowed sine of 511 taps removes the rest.
double loudest_below(const Signal& signal, double edge, std::size_t from) {
    constexpr int taps = 511, half = taps / 2;
    std::vector<double> low(taps);
    for (int k = 0; k < taps; ++k) {
        const double x = k - half,
                     window = 0.42 + 0.5 * std::cos(pi * x / (half + 1)) + 0.08 * std::cos(2 * pi * x / (half + 1));
        low[static_cast<std::size_t>(k)] =
            window * (x == 0 ? 2 * edge / 48000 : std::sin(2 * pi * edge / 48000 * x) / (pi * x));
    }
    double most = 0;
    for (std::size_t i = from; i + taps < signal.size(); i += 2) {
        double sum = 0;
        for (std::size_t k = 0; k < low.size(); ++k) sum += low[k] * signal[i + k];
        most = std::max(most, std::abs(sum));
    }
    return most;
}

} // namespace

TEST_CASE("Vibrato over the filters' steps has no ticks", "[glide][quality]") {
    // A quarter tone is one step: ±0.3 semitones at 4 Hz crosses it eight times a second.
    for (const double frequency : {10000.0, 15000.0, 18500.0})
        for (const char* lfo : {"rate = 4, depth = 0.3", "rate = 2, depth = 1.2"}) {
            Bench bench(std::string("[sound.s]\ntakes = [\"tone\"]\nloop = true\nlfo = [{ target = \"pitch\", ") + lfo +
                            " }]\n",
                        sine(frequency, 0.5, 48000));
            bench.engine.play("s");
            const Signal out = side(render(bench.engine, 48000), 0);
            INFO(frequency << " Hz, " << lfo);
            CHECK(db(loudest_below(out, frequency - 6000, 2000) / 0.5) <= -90);
        }
}
