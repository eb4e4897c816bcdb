#include "runtime/system/file.h"

#define WIN32_LEAN_AND_MEAN
#include <windows.h>

#include <algorithm>
#include <system_error>

namespace kiai::runtime {
namespace {

HANDLE handle_of(std::intptr_t number) noexcept {
    return reinterpret_cast<HANDLE>(number); // INVALID_HANDLE_VALUE is -1
}

} // namespace

OpenedFile open_file(const std::filesystem::path& path) {
    std::error_code unknown;
    if (std::filesystem::is_directory(path, unknown)) return {-1, 0, "not a regular file"};
    const HANDLE handle =
        ::CreateFileW(path.c_str(), GENERIC_READ, FILE_SHARE_READ | FILE_SHARE_WRITE | FILE_SHARE_DELETE, nullptr,
                      OPEN_EXISTING, FILE_ATTRIBUTE_NORMAL, nullptr);
    OpenedFile file{reinterpret_cast<std::intptr_t>(handle)};
    LARGE_INTEGER size{};
    if (handle == INVALID_HANDLE_VALUE || !::GetFileSizeEx(handle, &size))
        file.error = std::system_category().message(static_cast<int>(::GetLastError()));
    else
        file.size = static_cast<std::uint64_t>(size.QuadPart);
    return file;
}

void close_file(std::intptr_t handle) noexcept {
    if (handle != -1) ::CloseHandle(handle_of(handle));
}

std::size_t read_file(std::intptr_t handle, std::uint64_t from, std::span<std::byte> into) noexcept {
    constexpr std::size_t most = 1u << 30; // a call takes a count of 32 bits
    std::size_t done = 0;
    while (done < into.size()) {
        OVERLAPPED at{};
        at.Offset = static_cast<DWORD>((from + done) & 0xffffffffu);
        at.OffsetHigh = static_cast<DWORD>((from + done) >> 32);
        const auto wanted = static_cast<DWORD>((std::min)(into.size() - done, most));
        DWORD got = 0;
        if (!::ReadFile(handle_of(handle), into.data() + done, wanted, &got, &at) || got == 0) break;
        done += got;
    }
    return done;
}

std::span<const std::byte> map_file(std::intptr_t handle, std::uint64_t size) noexcept {
    if (size == 0 || size > SIZE_MAX) return {};
    const HANDLE mapping = ::CreateFileMappingW(handle_of(handle), nullptr, PAGE_READONLY, 0, 0, nullptr);
    if (!mapping) return {};
    const void* const begin = ::MapViewOfFile(mapping, FILE_MAP_READ, 0, 0, 0);
    ::CloseHandle(mapping); // the view keeps it
    if (!begin) return {};
    return {static_cast<const std::byte*>(begin), static_cast<std::size_t>(size)};
}

void unmap_file(std::span<const std::byte> bytes) noexcept {
    if (!bytes.empty()) ::UnmapViewOfFile(bytes.data());
}

} // namespace kiai::runtime
