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

/// Asks for the cache lines of an object, or for so many of its first bytes.
template<class Object>
void prefetch_object(const Object& object, std::size_t bytes = sizeof(Object)) noexcept {
    for (std::size_t at = 0; at < bytes; at += 64) prefetch(reinterpret_cast<const char*>(&object) + at);
}

} // namespace kiai::model
