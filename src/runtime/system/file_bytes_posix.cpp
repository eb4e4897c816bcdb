#include "runtime/system/file_bytes.h"

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <system_error>

namespace kiai::runtime {

FileBytes::FileBytes(const std::filesystem::path& path) : handle_(::open(path.c_str(), O_RDONLY | O_CLOEXEC)) {
    struct stat state {};
    if (handle_ < 0 || ::fstat(static_cast<int>(handle_), &state) != 0) {
        error_ = std::generic_category().message(errno);
    } else if (!S_ISREG(state.st_mode)) {
        error_ = "not a regular file";
    } else {
        size_ = static_cast<std::uint64_t>(state.st_size);
    }
}

FileBytes::~FileBytes() {
    if (handle_ >= 0) ::close(static_cast<int>(handle_));
}

std::size_t FileBytes::read_disk(std::uint64_t from, std::span<std::byte> into) const noexcept {
    std::size_t done = 0;
    while (done < into.size()) {
        const ssize_t got =
            ::pread(static_cast<int>(handle_), into.data() + done, into.size() - done, static_cast<off_t>(from + done));
        if (got < 0 && errno == EINTR) continue;
        if (got <= 0) break;
        done += static_cast<std::size_t>(got);
    }
    return done;
}

FileBytes::Map::Map(const FileBytes& file) {
    if (file.in_memory_) {
        bytes_ = file.held_;
        return;
    }
    if (file.size_ == 0 || file.size_ > SIZE_MAX) return;
    const auto size = static_cast<std::size_t>(file.size_);
    void* const begin = ::mmap(nullptr, size, PROT_READ, MAP_PRIVATE, static_cast<int>(file.handle_), 0);
    if (begin == MAP_FAILED) return;
    handle_ = begin;
    bytes_ = {static_cast<const std::byte*>(begin), size};
    ::madvise(begin, size, MADV_WILLNEED);
}

FileBytes::Map::~Map() {
    if (handle_) ::munmap(handle_, bytes_.size());
}

} // namespace kiai::runtime
