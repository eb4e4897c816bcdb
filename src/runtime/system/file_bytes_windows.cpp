#include "runtime/system/file_bytes.h"

#define WIN32_LEAN_AND_MEAN
#include <windows.h>

#include <algorithm>
#include <system_error>

namespace kiai::runtime {
namespace {

HANDLE handle_of(std::intptr_t number) noexcept {
    return reinterpret_cast<HANDLE>(number);
}

std::string last_error() {
    return std::system_category().message(static_cast<int>(::GetLastError()));
}

} // namespace

FileBytes::FileBytes(const std::filesystem::path& path) {
    std::error_code unknown;
    if (std::filesystem::is_directory(path, unknown)) {
        error_ = "not a regular file";
        return;
    }
    const HANDLE handle =
        ::CreateFileW(path.c_str(), GENERIC_READ, FILE_SHARE_READ | FILE_SHARE_WRITE | FILE_SHARE_DELETE, nullptr,
                      OPEN_EXISTING, FILE_ATTRIBUTE_NORMAL, nullptr);
    LARGE_INTEGER size{};
    if (handle == INVALID_HANDLE_VALUE || !::GetFileSizeEx(handle, &size))
        error_ = last_error();
    else
        size_ = static_cast<std::uint64_t>(size.QuadPart);
    handle_ = reinterpret_cast<std::intptr_t>(handle); // INVALID_HANDLE_VALUE is -1
}

FileBytes::~FileBytes() {
    if (handle_ != -1) ::CloseHandle(handle_of(handle_));
}

std::size_t FileBytes::read_disk(std::uint64_t from, std::span<std::byte> into) const noexcept {
    constexpr std::size_t most = 1u << 30; // a call takes a count of 32 bits
    std::size_t done = 0;
    while (done < into.size()) {
        OVERLAPPED at{};
        at.Offset = static_cast<DWORD>((from + done) & 0xffffffffu);
        at.OffsetHigh = static_cast<DWORD>((from + done) >> 32);
        DWORD got = 0;
        if (!::ReadFile(handle_of(handle_), into.data() + done,
                        static_cast<DWORD>((std::min)(into.size() - done, most)), &got, &at) ||
            got == 0)
            break;
        done += got;
    }
    return done;
}

FileBytes::Map::Map(const FileBytes& file) {
    if (file.in_memory_) {
        bytes_ = file.held_;
        return;
    }
    if (file.size_ == 0 || file.size_ > SIZE_MAX) return;
    const HANDLE mapping = ::CreateFileMappingW(handle_of(file.handle_), nullptr, PAGE_READONLY, 0, 0, nullptr);
    if (!mapping) return;
    handle_ = ::MapViewOfFile(mapping, FILE_MAP_READ, 0, 0, 0);
    ::CloseHandle(mapping); // the view keeps it
    if (handle_) bytes_ = {static_cast<const std::byte*>(handle_), static_cast<std::size_t>(file.size_)};
}

FileBytes::Map::~Map() {
    if (handle_) ::UnmapViewOfFile(handle_);
}

} // namespace kiai::runtime
