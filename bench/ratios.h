// Speed as ratios: each row pairs what is measured with the reference that ran beside it.
#pragma once

#include <benchmark/benchmark.h>

#include <functional>
#include <string>
#include <vector>

namespace bench {

/// One side of a pair: does a fixed piece of work.
using Work = std::function<void()>;

struct Pair {
    std::string what, reference;
    std::string unit; ///< what one piece of work is counted in
    double units = 1; ///< per piece of work
    Work measured, beside;
    Work measured_base, beside_base; ///< taken off first, where they are given: so a slope is left
    std::string mark;
};

/// Registers both sides of each pair with Google Benchmark, runs them in turn, and prints a row per pair: medians and
/// their ratio.
int run(int count, char** arguments, const std::vector<Pair>& pairs);

} // namespace bench
