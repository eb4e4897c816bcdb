#include "runtime/system/file.h"

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <system_error>

namespace kiai::runtime {

OpenedFile open_file(const std::filesystem::path& path) {
    const int handle = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    OpenedFile file{handle};
    struct stat state {};
    if (handle < 0 || ::fstat(handle, &state) != 0)
        file.error = std::generic_category().message(errno);
    else if (!S_ISREG(state.st_mode))
        file.error = "not a regular file";
    else
        file.size = static_cast<std::uint64_t>(state.st_size);
    return file;
}

void close_file(std::intptr_t handle) noexcept {
    if (handle >= 0) ::close(static_cast<int>(handle));
}

std::size_t read_file(std::intptr_t handle, std::uint64_t from, std::span<std::byte> into) noexcept {
    std::size_t done = 0;
    while (done < into.size()) {
        const ssize_t got =
            ::pread(static_cast<int>(handle), into.data() + done, into.size() - done, static_cast<off_t>(from + done));
        if (got < 0 && errno == EINTR) continue;
        if (got <= 0) break;
        done += static_cast<std::size_t>(got);
    }
    return done;
}

std::span<const std::byte> map_file(std::intptr_t handle, std::uint64_t size) noexcept {
    if (size == 0 || size > SIZE_MAX) return {};
    const auto count = static_cast<std::size_t>(size);
    void* const begin = ::mmap(nullptr, count, PROT_READ, MAP_PRIVATE, static_cast<int>(handle), 0);
    if (begin == MAP_FAILED) return {};
    ::madvise(begin, count, MADV_WILLNEED);
    return {static_cast<const std::byte*>(begin), count};
}

void unmap_file(std::span<const std::byte> bytes) noexcept {
    if (!bytes.empty()) ::munmap(const_cast<std::byte*>(bytes.data()), bytes.size());
}

} // namespace kiai::runtime
