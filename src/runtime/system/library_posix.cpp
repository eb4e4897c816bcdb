#include "runtime/system/library.h"

#include <dlfcn.h>

namespace kiai::runtime {

void* load_library(const char* name) noexcept {
    return dlopen(name, RTLD_LAZY | RTLD_LOCAL);
}

bool is_loaded(const char* name) noexcept {
    return dlopen(name, RTLD_LAZY | RTLD_NOLOAD) != nullptr;
}

void* function_of(void* library, const char* name) noexcept {
    return dlsym(library, name);
}

} // namespace kiai::runtime
