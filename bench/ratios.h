// Speed as ratios: what is measured and its reference are run in turn, and each turn gives one ratio.
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

/// Runs each pair with Google Benchmark, whose JSON (--benchmark_out=FILE) holds the figures too, and prints a row per
/// pair: the medians over all turns of both times, and of their ratio.
int run(int count, char** arguments, const std::vector<Pair>& pairs, const char* unit = "frame of output",
        int turns = 101);

}
