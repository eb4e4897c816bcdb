#include "runtime/project/pack_file.h"

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <system_error>

namespace kiai::runtime {

DiskFile::DiskFile(const std::filesystem::path& path) : handle_(::open(path.c_str(), O_RDONLY | O_CLOEXEC)) {
    struct stat state {};
    if (handle_ < 0 || ::fstat(handle_, &state) != 0) {
        error_ = std::generic_category().message(errno);
    } else if (!S_ISREG(state.st_mode)) {
        error_ = "not a regular file";
    } else {
        size_ = static_cast<std::uint64_t>(state.st_size);
    }
}

DiskFile::~DiskFile() {
    if (handle_ >= 0) ::close(handle_);
}

std::size_t DiskFile::read(std::uint64_t from, std::span<std::byte> into) const noexcept {
    std::size_t done = 0;
    while (done < into.size()) {
        const ssize_t got = ::pread(handle_, into.data() + done, into.size() - done, static_cast<off_t>(from + done));
        if (got < 0 && errno == EINTR) continue;
        if (got <= 0) break;
        done += static_cast<std::size_t>(got);
    }
    return done;
}

DiskFile::Map::Map(const DiskFile& file) {
    if (file.size_ == 0) return;
    void* const begin = ::mmap(nullptr, file.size_, PROT_READ, MAP_PRIVATE, file.handle_, 0);
    if (begin == MAP_FAILED) return;
    bytes_ = {static_cast<const std::byte*>(begin), static_cast<std::size_t>(file.size_)};
    ::madvise(begin, bytes_.size(), MADV_WILLNEED);
}

DiskFile::Map::~Map() {
    if (!bytes_.empty()) ::munmap(const_cast<std::byte*>(bytes_.data()), bytes_.size());
}

} // namespace kiai::runtime
