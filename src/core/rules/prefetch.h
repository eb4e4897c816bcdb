// Asks the processor for memory that will soon be read.
#pragma once

namespace kiai::rules {

inline void prefetch([[maybe_unused]] const void* memory) noexcept {
#if defined(__GNUC__)
    __builtin_prefetch(memory);
#endif
}

} // namespace kiai::rules
