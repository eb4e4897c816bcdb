// Runs independent work on all cores.
#pragma once

#include "core/model/guarded.h"
#include "core/model/threads.h"

#include <algorithm>
#include <atomic>
#include <cstddef>
#include <exception>
#include <functional>
#include <mutex>
#include <thread>
#include <vector>

namespace kiai::model {

/// Calls work(0) … work(count - 1), each once, on as many threads as there are cores, and returns when all are done.
/// The calling thread also works. The first exception of `work` is rethrown here once all threads have stopped.
template<class Work>
void in_parallel(std::size_t count, const Work& work,
                 const std::function<void(std::size_t done, std::size_t all)>& progress = {}) {
    std::atomic<std::size_t> next{0}, done{0};
    std::exception_ptr thrown;
    std::mutex mutex;
    const auto take = [&](bool tells) noexcept {
        const std::exception_ptr caught = thrown_by([&] {
            for (std::size_t i = next++; i < count; i = next++) {
                work(i);
                const std::size_t now = ++done;
                if (tells && progress) progress(now, count);
            }
        });
        if (!caught) return;
        const std::lock_guard lock(mutex);
        if (!thrown) thrown = caught;
        next = count; // the others begin nothing more
    };
    std::vector<std::thread> others;
    const std::size_t cores = has_threads ? std::max(1u, std::thread::hardware_concurrency()) : 1;
    for (std::size_t i = 1; i < std::min(cores, count); ++i)
        if (thrown_by([&] { others.emplace_back(take, false); }))
            break; // the system has no more threads: those that there are do the work
    take(true);
    for (std::thread& other : others) other.join();
    if (thrown) std::rethrow_exception(thrown);
    if (progress && count > 0) progress(count, count);
}

} // namespace kiai::model
