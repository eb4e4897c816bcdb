#include "runtime/system/program.h"

#define WIN32_LEAN_AND_MEAN
#include <windows.h>

#include <string>

namespace kiai::runtime {

std::filesystem::path program_path() {
    std::wstring path(260, L'\0');
    for (;;) {
        const DWORD size = ::GetModuleFileNameW(nullptr, path.data(), static_cast<DWORD>(path.size()));
        if (size == 0) return {};
        if (size < path.size()) return path.substr(0, size);
        path.resize(2 * path.size()); // it was cut off
    }
}

} // namespace kiai::runtime
