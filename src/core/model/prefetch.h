// Asks the processor for memory that will soon be read.
#pragma once

#include <cstddef>

namespace kiai::model {

inline void prefetch([[maybe_unused]] const void* memory) noexcept {
#if defined(__GNUC__)
    __builtin_prefetch(memory);
    asm volatile("" : : "r"(memory)); // else GCC leaves out a function that only prefetches
#endif
}

/// Asks for all cache lines of an object.
template<class Object>
void prefetch_whole(const Object& object) noexcept {
    for (std::size_t at = 0; at < sizeof object; at += 64) prefetch(reinterpret_cast<const char*>(&object) + at);
}

} // namespace kiai::model
