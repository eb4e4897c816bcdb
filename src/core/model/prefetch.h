// Asks the processor for memory that will soon be read.
#pragma once

namespace kiai::model {

inline void prefetch([[maybe_unused]] const void* memory) noexcept {
#if defined(__GNUC__)
    __builtin_prefetch(memory);
    asm volatile("" : : "r"(memory)); // else GCC leaves out a function that only prefetches
#endif
}

} // namespace kiai::model
