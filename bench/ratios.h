// Measures speed as ratios: each turn runs the measured work and its reference, and gives one ratio.
#pragma once

#include <functional>
#include <string>
#include <vector>

namespace bench {

/// A fixed piece of work.
using Work = std::function<void()>;

struct Pair {
    std::string what, reference;
    double units = 1; ///< of what is counted, in one piece of work: frames of output, or files
    Work measured, beside;
    Work measured_base, beside_base; ///< taken off, where they are given: so a slope is left
    std::string mark;
    Work after = {}; ///< done after each of both, and not measured
};

/// Runs each pair with Google Benchmark and prints a row per pair: the medians of both times and of their ratio. The
/// JSON of Google Benchmark (--benchmark_out=FILE) contains the same figures.
int run(int count, char** arguments, const std::vector<Pair>& pairs, const char* unit = "frame of output",
        int turns = 101);

}
