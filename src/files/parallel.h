// Independent pieces of work on all cores.
#pragma once

#include <kiai/project.h>

#include <algorithm>
#include <atomic>
#include <cstddef>
#include <thread>
#include <vector>

namespace kiai::files {

/// Calls work(0) … work(count - 1), each once, on as many threads as there are cores; returns when all are done. The
/// calling thread works too. `work` must not throw.
template<class Work>
void in_parallel(std::size_t count, const Work& work, const Progress& progress = {}) {
    std::atomic<std::size_t> next{0}, done{0};
    const auto take = [&](bool tells) {
        for (std::size_t i = next++; i < count; i = next++) {
            work(i);
            const std::size_t now = ++done;
            if (tells && progress) progress(now, count);
        }
    };
    std::vector<std::jthread> others;
    const std::size_t cores = std::max(1u, std::thread::hardware_concurrency());
    for (std::size_t i = 1; i < std::min(cores, count); ++i) others.emplace_back(take, false);
    take(true);
    others.clear(); // joins
    if (progress && count > 0) progress(count, count);
}

} // namespace kiai::files
