#include "runtime/system/library.h"

#define WIN32_LEAN_AND_MEAN
#include <windows.h>

namespace kiai::runtime {

void* load_library(const char* name) noexcept {
    return reinterpret_cast<void*>(::LoadLibraryA(name));
}

bool is_loaded(const char* name) noexcept {
    return ::GetModuleHandleA(name) != nullptr;
}

void* function_of(void* library, const char* name) noexcept {
    return reinterpret_cast<void*>(::GetProcAddress(reinterpret_cast<HMODULE>(library), name));
}

} // namespace kiai::runtime
