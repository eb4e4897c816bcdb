// Files that are there whole or not at all, and one writer at a time.
#pragma once

#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>
#include <string_view>

namespace kiai::workshop {

/// Puts `bytes` in the place of `file`: into a temporary file beside it, flushed to the disk, then renamed. Whatever
/// happens, the old content or the new one is there. Empty, or why not. [control]
std::string write_atomically(const std::filesystem::path& file, std::string_view bytes);

/// The same, of bytes that come piece by piece. What was not finished leaves nothing behind. [control]
class AtomicFile {
  public:
    explicit AtomicFile(const std::filesystem::path& file);
    ~AtomicFile();
    void write(std::string_view bytes);
    /// The position of the next byte.
    std::uint64_t at() const noexcept { return at_; }
    /// Puts `bytes` at the start, over what is there.
    void overwrite_begin(std::string_view bytes);
    /// Empty, or why the old file is still there.
    std::string finish();

    /// A new file beside another, gone again unless it was kept.
    class Beside;

  private:
    std::filesystem::path file_;
    std::unique_ptr<Beside> beside_;
    std::uint64_t at_ = 0;
    std::string error_;
};

/// Copies `from` to a new file `to`, in the same way; an existing one is never touched. Empty, or why not. [control]
std::string copy_new(const std::filesystem::path& from, const std::filesystem::path& to);

/// Takes away what a writer of `file` left that was killed. Only while nobody else can be writing it.
void clear_leftovers(const std::filesystem::path& file);

/// Keeps others that ask for the same file waiting, in this process and in others, until it goes.
class FileLock {
  public:
    explicit FileLock(const std::filesystem::path& file);
    ~FileLock();
    FileLock(const FileLock&) = delete;
    FileLock& operator=(const FileLock&) = delete;

  private:
    int handle_ = -1;
};

} // namespace kiai::workshop
