// A file between two library calls, of which one can only write files.
#pragma once

#include <filesystem>
#include <string>
#include <system_error>

namespace kiai::workshop {

/// A name in the system's folder for temporary files that nobody else uses. The file is deleted with the object.
class TemporaryFile {
  public:
    /// `extension`: with its point.
    explicit TemporaryFile(const std::string& extension);
    ~TemporaryFile() {
        std::error_code error;
        std::filesystem::remove(path_, error);
    }
    TemporaryFile(const TemporaryFile&) = delete;
    TemporaryFile& operator=(const TemporaryFile&) = delete;

    const std::filesystem::path& path() const noexcept { return path_; }

  private:
    std::filesystem::path path_;
};

} // namespace kiai::workshop
