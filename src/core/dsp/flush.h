// Denormals are slow and inaudible, so the thread treats them as zero while a guard exists.
#pragma once

#if defined(__SSE__) || defined(_M_X64)
#include <immintrin.h>
#endif

#include <cstdint>

namespace kiai::dsp {

class FlushToZero {
  public:
#if defined(__SSE__) || defined(_M_X64)
    FlushToZero() noexcept : before_(_mm_getcsr()) {
        _mm_setcsr(before_ | 0x8040u);
    }
    ~FlushToZero() {
        _mm_setcsr(before_);
    }
#elif defined(__aarch64__)
    FlushToZero() noexcept {
        asm volatile("mrs %0, fpcr" : "=r"(before_));
        asm volatile("msr fpcr, %0" ::"r"(before_ | (1u << 24)));
    }
    ~FlushToZero() {
        asm volatile("msr fpcr, %0" ::"r"(before_));
    }
#else
    FlushToZero() noexcept {} // not defaulted: an object that only exists would be a warning
#endif
    FlushToZero(const FlushToZero&) = delete;
    FlushToZero& operator=(const FlushToZero&) = delete;

  private:
#if defined(__aarch64__)
    std::uint64_t before_ = 0;
#elif defined(__SSE__) || defined(_M_X64)
    std::uint32_t before_ = 0;
#endif
};

} // namespace kiai::dsp
