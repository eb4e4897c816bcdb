#include "ratios.h"

#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <map>

namespace bench {
namespace {

double median(std::vector<double> values) {
    std::sort(values.begin(), values.end());
    return values[values.size() / 2];
}

/// Returns the time of one piece of work in nanoseconds: the minimum of three runs, because disturbances only add time.
double nanoseconds(const Work& work, const Work& after) {
    if (!work) return 0;
    double least = 1e18;
    for (int i = 0; i < 3; ++i) {
        const auto begin = std::chrono::steady_clock::now();
        work();
        least =
            std::min(least, std::chrono::duration<double, std::nano>(std::chrono::steady_clock::now() - begin).count());
        if (after) after();
    }
    return least;
}

struct Row {
    double measured = 0, beside = 0, ratio = 0;
};

void run_pair(benchmark::State& state, const Pair& pair, Row& row) {
    std::vector<double> measured, beside, ratios;
    for (auto _ : state) {
        measured.push_back((nanoseconds(pair.measured, pair.after) - nanoseconds(pair.measured_base, pair.after)) /
                           pair.units);
        beside.push_back((nanoseconds(pair.beside, pair.after) - nanoseconds(pair.beside_base, pair.after)) /
                         pair.units);
        ratios.push_back(beside.back() / measured.back());
    }
    row = {median(measured), median(beside), median(ratios)};
    state.counters["measured_ns"] = row.measured;
    state.counters["beside_ns"] = row.beside;
    state.counters["ratio"] = row.ratio;
}

}

int run(int count, char** arguments, const std::vector<Pair>& pairs, const char* unit, int turns) {
    benchmark::Initialize(&count, arguments);
    std::map<std::string, Row> rows;
    for (const Pair& pair : pairs)
        benchmark::RegisterBenchmark(pair.what.c_str(), [&pair, &row = rows[pair.what]](benchmark::State& state) {
            run_pair(state, pair, row);
        })->Iterations(turns);
    benchmark::RunSpecifiedBenchmarks();
    std::printf("\n%-50s %8s  %-28s %8s  %7s  %s\n", "what", "ns", "beside it", "ns", "ratio", "mark");
    for (const Pair& pair : pairs)
        if (const Row& row = rows[pair.what]; row.ratio > 0)
            std::printf("%-50s %8.2f  %-28s %8.2f  %6.2fx  %s\n", pair.what.c_str(), row.measured,
                        pair.reference.c_str(), row.beside, row.ratio, pair.mark.c_str());
    std::printf("ns per %s, and how many times faster than what runs beside it: medians of %d turns\n", unit, turns);
    return 0;
}

}
