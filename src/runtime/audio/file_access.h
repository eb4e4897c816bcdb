// Opens the files of a project, in its folder or through the app's own reader.
#pragma once

#include <kiai/clip_source.h>

#include <filesystem>
#include <istream>
#include <memory>
#include <string>

namespace kiai::runtime {

/// Opens the files of a project. A cheap value; any thread.
class FileAccess {
  public:
    FileAccess() = default;
    /// `open` may be empty: then the files are those of the folder, even if the app's current folder changes later.
    FileAccess(const std::filesystem::path& folder, OpenFile open);

    bool own() const noexcept { return static_cast<bool>(open_); }
    bool exists(const std::string& file) const;
    std::filesystem::path path(const std::string& file) const { return folder_ / file; }
    std::unique_ptr<FileReader> open(const std::string& file) const;
    /// Returns the bytes of a file as a stream; null if it cannot be opened.
    std::unique_ptr<std::istream> stream(const std::string& file) const;

  private:
    std::filesystem::path folder_;
    OpenFile open_;
};

/// Reads from the app's reader; an exception counts as the end.
std::int64_t read_from(FileReader& reader, std::int64_t from, void* into, std::int64_t count) noexcept;
std::int64_t size_of(FileReader& reader) noexcept;

} // namespace kiai::runtime
