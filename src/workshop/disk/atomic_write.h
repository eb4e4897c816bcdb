// Writes files whole or not at all, with one writer at a time.
#pragma once

#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>
#include <string_view>

namespace kiai::workshop {

/// Replaces `file` with `bytes`: writes a temporary file in the same folder, flushes it to the disk, then renames it.
/// The old or the new content always exists. Returns an empty text, or the error. [control]
std::string write_atomically(const std::filesystem::path& file, std::string_view bytes);

/// The same for bytes that come in pieces. An unfinished file leaves nothing behind. [control]
class AtomicFile {
  public:
    explicit AtomicFile(const std::filesystem::path& file);
    ~AtomicFile();
    void write(std::string_view bytes);
    /// Returns the position of the next byte.
    std::uint64_t at() const noexcept { return at_; }
    /// Overwrites the beginning with `bytes`.
    void overwrite_begin(std::string_view bytes);
    /// Returns an empty text, or why the old file is unchanged.
    std::string finish();

    /// A new file in the same folder, deleted again unless it was kept.
    class Beside;

  private:
    std::filesystem::path file_;
    std::unique_ptr<Beside> beside_;
    std::uint64_t at_ = 0;
    std::string error_;
};

/// Copies `from` to a new file `to` in the same way. Never touches an existing file. Returns an empty text, or the
/// error. [control]
std::string copy_new(const std::filesystem::path& from, const std::filesystem::path& to);

/// Deletes what a killed writer of `file` left behind. Call it only while nobody else can write the file.
void clear_leftovers(const std::filesystem::path& file);

/// Blocks other writers of the same file, in this and other processes, while it exists.
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
