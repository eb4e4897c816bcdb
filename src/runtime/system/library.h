// Libraries that are loaded while the program runs.
#pragma once

namespace kiai::runtime {

/// Loads a shared library by its name, for as long as the program runs. Returns null if the system has none. [any]
void* load_library(const char* name) noexcept;
/// Returns true if the program has loaded the library already. [any]
bool is_loaded(const char* name) noexcept;
/// Returns the address of a function; null if the library has none of that name. [any]
void* function_of(void* library, const char* name) noexcept;

} // namespace kiai::runtime
