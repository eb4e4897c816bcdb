// Watches what a thread does: memory, locks, system calls.
#pragma once

#include <atomic>

namespace watched {

/// Of all threads while they were watched.
struct Counts {
    std::atomic<long> memory{0};  ///< malloc, free and their like
    std::atomic<long> locks{0};   ///< mutexes, conditions, read-write locks, semaphores
    std::atomic<long> calls{0};   ///< of the system
    std::atomic<long> statics{0}; ///< objects made at their first use, and functions registered for the program's end
    std::atomic<int> last_call{-1};
};
extern Counts counts;
void forget() noexcept;

/// Watches this thread's memory and locks while it exists.
class Watch {
  public:
    Watch() noexcept;
    ~Watch();
};

/// From here on the kernel lets this thread do nothing but end by `leave`: every other system call is counted and
/// refused.
void forbid_system_calls();
/// Ends the thread without another system call.
[[noreturn]] void leave() noexcept;

} // namespace watched
