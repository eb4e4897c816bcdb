// One input for one target. Every target is a program of its own.
#pragma once

#include <kiai/workshop/workshop.h>

#include <cstddef>
#include <cstdint>
#include <filesystem>
#include <span>
#include <string>

/// The function that libFuzzer and the replay of a corpus call. Returns 0, or -1 if the input is not worth keeping.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size);

namespace fuzz {

/// Returns the input as text.
inline std::string text_of(const std::uint8_t* data, std::size_t size) {
    return {reinterpret_cast<const char*>(data), size};
}

/// A file in memory, for readers that accept only files.
class File {
  public:
    explicit File(const std::string& bytes);
    ~File();
    File(const File&) = delete;
    File& operator=(const File&) = delete;
    const std::filesystem::path& path() const { return path_; }

  private:
    std::filesystem::path path_;
};

/// Plays a project for half a second and reports every press, key and contact that it binds.
void play(const kiai::Project& project);

} // namespace fuzz
