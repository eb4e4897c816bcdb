#include "workshop/disk/atomic_write.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <vector>

namespace kiai::workshop {
namespace {

namespace fs = std::filesystem;

std::string why(const fs::path& file) {
    return file.string() + ": " + std::strerror(errno);
}

bool write_all(int handle, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t count = ::write(handle, bytes.data(), bytes.size());
        if (count < 0 && errno == EINTR) continue;
        if (count <= 0) return false;
        bytes.remove_prefix(static_cast<std::size_t>(count));
    }
    return true;
}

void flush_folder(const fs::path& file) {
    const fs::path folder = file.parent_path().empty() ? "." : file.parent_path();
    const int handle = ::open(folder.c_str(), O_RDONLY | O_DIRECTORY);
    if (handle < 0) return;
    ::fsync(handle);
    ::close(handle);
}

mode_t mode_of(const fs::path& file) {
    struct stat was {};
    return ::stat(file.c_str(), &was) == 0 ? was.st_mode & 07777 : 0644;
}

fs::path target_of(const fs::path& named) {
    std::error_code error;
    return fs::is_symlink(named, error) ? fs::weakly_canonical(named, error) : named;
}

} // namespace

/// A new file in the same folder, deleted again unless it was kept.
class AtomicFile::Beside {
  public:
    Beside(const fs::path& file, mode_t mode) {
        std::string name = (file.parent_path() / ("." + file.filename().string() + ".XXXXXX")).string();
        handle = ::mkstemp(name.data());
        if (handle < 0) return;
        path = name;
        ::fchmod(handle, mode);
    }
    ~Beside() {
        if (handle >= 0) ::close(handle);
        if (!path.empty()) ::unlink(path.c_str());
    }
    Beside(const Beside&) = delete;
    Beside& operator=(const Beside&) = delete;

    /// Flushes and closes the file; returns true if the disk has all of it.
    bool finish() {
        const bool good = ::fsync(handle) == 0;
        const bool closed = ::close(handle) == 0;
        handle = -1;
        return good && closed;
    }

    int handle = -1;
    fs::path path;
};

AtomicFile::AtomicFile(const fs::path& named)
    : file_(target_of(named)), beside_(std::make_unique<Beside>(file_, mode_of(file_))) {
    if (beside_->handle < 0) error_ = why(file_);
}

AtomicFile::~AtomicFile() = default;

void AtomicFile::write(std::string_view bytes) {
    at_ += bytes.size();
    if (error_.empty() && !write_all(beside_->handle, bytes)) error_ = why(file_);
}

void AtomicFile::overwrite_begin(std::string_view bytes) {
    if (error_.empty() && (::lseek(beside_->handle, 0, SEEK_SET) != 0 || !write_all(beside_->handle, bytes)))
        error_ = why(file_);
}

std::string AtomicFile::finish() {
    if (!error_.empty()) return error_;
    if (!beside_->finish() || ::rename(beside_->path.c_str(), file_.c_str()) != 0) return why(file_);
    beside_->path.clear();
    flush_folder(file_);
    return {};
}

std::string write_atomically(const fs::path& file, std::string_view bytes) {
    AtomicFile fresh(file);
    fresh.write(bytes);
    return fresh.finish();
}

std::string copy_new(const fs::path& from, const fs::path& to) {
    const int source = ::open(from.c_str(), O_RDONLY);
    if (source < 0) return why(from);
    const auto close_source = [](const int* handle) { ::close(*handle); };
    const std::unique_ptr<const int, decltype(close_source)> closes(&source, close_source);
    AtomicFile::Beside fresh(to, 0644);
    if (fresh.handle < 0) return why(to);
    std::vector<char> block(1 << 16);
    for (;;) {
        const ssize_t count = ::read(source, block.data(), block.size());
        if (count < 0 && errno == EINTR) continue;
        if (count < 0) return why(from);
        if (count == 0) break;
        if (!write_all(fresh.handle, {block.data(), static_cast<std::size_t>(count)})) return why(to);
    }
    if (!fresh.finish()) return why(to);
    if (::link(fresh.path.c_str(), to.c_str()) != 0) return why(to); // fails where there is one already
    flush_folder(to);
    return {};
}

void clear_leftovers(const fs::path& file) {
    std::error_code error;
    const fs::path folder = file.parent_path().empty() ? "." : file.parent_path();
    const std::string begin = "." + file.filename().string() + ".";
    for (const auto& entry : fs::directory_iterator(folder, error)) {
        const std::string name = entry.path().filename().string();
        if (name.starts_with(begin) && name.size() == begin.size() + 6) fs::remove(entry.path(), error);
    }
}

FileLock::FileLock(const fs::path& file) {
    // Another process may replace the locked file during the wait; then the new file must be locked.
    for (int tries = 0; tries < 1000; ++tries) {
        handle_ = ::open(file.c_str(), O_RDONLY | O_CLOEXEC);
        if (handle_ < 0) return;
        while (::flock(handle_, LOCK_EX) != 0 && errno == EINTR) {
        }
        struct stat mine {
        }, there{};
        if (::fstat(handle_, &mine) == 0 && ::stat(file.c_str(), &there) == 0 && mine.st_ino == there.st_ino) return;
        ::close(handle_);
        handle_ = -1;
    }
}

FileLock::~FileLock() {
    if (handle_ >= 0) ::close(handle_);
}

} // namespace kiai::workshop
