#include "ratios.h"

#include <algorithm>
#include <cstdio>
#include <map>

namespace bench {
namespace {

/// Keeps each repetition's time, and prints what it is given as ever.
class Keeping : public benchmark::ConsoleReporter {
  public:
    std::map<std::string, std::vector<double>> nanoseconds;

    void ReportRuns(const std::vector<Run>& runs) override {
        for (const Run& one : runs)
            if (one.run_type == Run::RT_Iteration)
                nanoseconds[one.run_name.function_name].push_back(one.real_accumulated_time /
                                                                  static_cast<double>(one.iterations) * 1e9);
    }
    bool ReportContext(const Context&) override { return true; }
    double median(const std::string& name) {
        std::vector<double>& all = nanoseconds[name];
        if (all.empty()) return 0;
        std::sort(all.begin(), all.end());
        return all[all.size() / 2];
    }
};

void add(const std::string& name, const Work& work) {
    if (!work) return;
    benchmark::RegisterBenchmark(name.c_str(),
                                 [work](benchmark::State& state) {
                                     for (auto _ : state) work();
                                 })
        ->MinTime(0.1)
        ->Repetitions(9)
        ->UseRealTime();
}

} // namespace

int run(int count, char** arguments, const std::vector<Pair>& pairs) {
    std::vector<char*> all(arguments, arguments + count);
    std::string interleave =
        "--benchmark_enable_random_interleaving=true"; // both sides meet the same moods of the machine
    all.push_back(interleave.data());
    int size = static_cast<int>(all.size());
    benchmark::Initialize(&size, all.data());
    for (const Pair& pair : pairs) {
        add(pair.what + "|measured", pair.measured);
        add(pair.what + "|measured base", pair.measured_base);
        add(pair.what + "|beside", pair.beside);
        add(pair.what + "|beside base", pair.beside_base);
    }
    Keeping reporter;
    benchmark::RunSpecifiedBenchmarks(&reporter);
    std::printf("%-46s %10s  %-34s %10s  %8s  %s\n", "what", "ns", "beside it", "ns", "ratio", "mark");
    for (const Pair& pair : pairs) {
        const double measured =
            (reporter.median(pair.what + "|measured") - reporter.median(pair.what + "|measured base")) / pair.units;
        const double beside =
            (reporter.median(pair.what + "|beside") - reporter.median(pair.what + "|beside base")) / pair.units;
        if (measured <= 0 || beside <= 0) continue; // filtered out
        std::printf("%-46s %10.3f  %-34s %10.3f  %7.2fx  %s\n", pair.what.c_str(), measured, pair.reference.c_str(),
                    beside, beside / measured, pair.mark.c_str());
    }
    std::printf("ns: median of 9, per %s; ratio: how many times faster than what runs beside it\n",
                pairs.front().unit.c_str());
    return 0;
}

} // namespace bench
