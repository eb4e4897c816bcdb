#include "watched.h"

#include <cerrno>
#include <csignal>
#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <dlfcn.h>
#include <linux/audit.h>
#include <linux/filter.h>
#include <linux/seccomp.h>
#include <pthread.h>
#include <semaphore.h>
#include <sys/prctl.h>
#include <sys/syscall.h>
#include <ucontext.h>
#include <unistd.h>

namespace watched {

Counts counts;

namespace {
thread_local bool watching __attribute__((tls_model("initial-exec"))) = false;

void note(std::atomic<long>& count) noexcept {
    if (watching) count.fetch_add(1, std::memory_order_relaxed);
}

/// Returns the function that a definition in this file replaces.
template<class Function>
Function* real(const char* name) noexcept {
    return reinterpret_cast<Function*>(dlsym(RTLD_NEXT, name));
}

void on_forbidden(int, siginfo_t* info, void* context) {
    counts.calls.fetch_add(1, std::memory_order_relaxed);
    counts.last_call.store(info->si_syscall, std::memory_order_relaxed);
#if defined(__x86_64__)
    static_cast<ucontext_t*>(context)->uc_mcontext.gregs[REG_RAX] = -ENOSYS;
#elif defined(__aarch64__)
    static_cast<ucontext_t*>(context)->uc_mcontext.regs[0] = static_cast<std::uint64_t>(-ENOSYS);
#endif
}
} // namespace

void forget() noexcept {
    counts.memory = counts.locks = counts.calls = counts.statics = 0;
}

Watch::Watch() noexcept {
    watching = true;
}

Watch::~Watch() {
    watching = false;
}

void forbid_system_calls() {
    struct sigaction action {};
    action.sa_sigaction = on_forbidden;
    action.sa_flags = SA_SIGINFO;
    if (sigaction(SIGSYS, &action, nullptr) != 0) std::abort();
    sock_filter filter[] = {
        BPF_STMT(BPF_LD | BPF_W | BPF_ABS, offsetof(seccomp_data, nr)),
        BPF_JUMP(BPF_JMP | BPF_JEQ | BPF_K, SYS_rt_sigreturn, 1, 0),
        BPF_JUMP(BPF_JMP | BPF_JEQ | BPF_K, SYS_exit, 0, 1),
        BPF_STMT(BPF_RET | BPF_K, SECCOMP_RET_ALLOW),
        BPF_STMT(BPF_RET | BPF_K, SECCOMP_RET_TRAP),
    };
    const sock_fprog program{sizeof filter / sizeof *filter, filter};
    if (prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0) != 0 || prctl(PR_SET_SECCOMP, SECCOMP_MODE_FILTER, &program) != 0)
        std::abort(); // without it nothing would be proven
}

void leave() noexcept {
    syscall(SYS_exit, 0);
    __builtin_unreachable();
}

} // namespace watched

using watched::counts;
using watched::note;

// These replace the functions of the whole program, including its libraries.
extern "C" {

void* __libc_malloc(std::size_t);
void* __libc_calloc(std::size_t, std::size_t);
void* __libc_realloc(void*, std::size_t);
void* __libc_memalign(std::size_t, std::size_t);
void __libc_free(void*);

void* malloc(std::size_t size) {
    note(counts.memory);
    return __libc_malloc(size);
}
void* calloc(std::size_t count, std::size_t size) {
    note(counts.memory);
    return __libc_calloc(count, size);
}
void* realloc(void* memory, std::size_t size) {
    note(counts.memory);
    return __libc_realloc(memory, size);
}
void* memalign(std::size_t alignment, std::size_t size) {
    note(counts.memory);
    return __libc_memalign(alignment, size);
}
void* aligned_alloc(std::size_t alignment, std::size_t size) {
    note(counts.memory);
    return __libc_memalign(alignment, size);
}
int posix_memalign(void** memory, std::size_t alignment, std::size_t size) {
    note(counts.memory);
    *memory = __libc_memalign(alignment, size);
    return *memory ? 0 : ENOMEM;
}
void free(void* memory) {
    if (memory) note(counts.memory);
    __libc_free(memory);
}

#define KIAI_LOCK(name, parameters, ...)                                                                               \
    int name parameters {                                                                                              \
        note(counts.locks);                                                                                            \
        static const auto next = watched::real<int parameters>(#name);                                                 \
        return next(__VA_ARGS__);                                                                                      \
    }
KIAI_LOCK(pthread_mutex_lock, (pthread_mutex_t * lock), lock)
KIAI_LOCK(pthread_mutex_trylock, (pthread_mutex_t * lock), lock)
KIAI_LOCK(pthread_mutex_unlock, (pthread_mutex_t * lock), lock)
KIAI_LOCK(pthread_rwlock_rdlock, (pthread_rwlock_t * lock), lock)
KIAI_LOCK(pthread_rwlock_wrlock, (pthread_rwlock_t * lock), lock)
KIAI_LOCK(pthread_rwlock_unlock, (pthread_rwlock_t * lock), lock)
KIAI_LOCK(pthread_cond_wait, (pthread_cond_t * condition, pthread_mutex_t* lock), condition, lock)
KIAI_LOCK(pthread_cond_signal, (pthread_cond_t * condition), condition)
KIAI_LOCK(pthread_cond_broadcast, (pthread_cond_t * condition), condition)
KIAI_LOCK(sem_wait, (sem_t * semaphore), semaphore)
KIAI_LOCK(sem_post, (sem_t * semaphore), semaphore)

// They have no statics of their own, because each of those would call these functions again.
int __cxa_guard_acquire(long long* guard) {
    note(counts.statics);
    return watched::real<int(long long*)>("__cxa_guard_acquire")(guard);
}
int __cxa_atexit(void (*function)(void*), void* argument, void* object) {
    note(counts.statics);
    return watched::real<int(void (*)(void*), void*, void*)>("__cxa_atexit")(function, argument, object);
}
}
