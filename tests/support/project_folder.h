// A project in a temporary folder.
#pragma once

#include "support/signal.h"

#include <kiai/load.h>

#include <filesystem>
#include <string>

namespace support {

/// Returns the contents of a file.
std::string text_of(const std::filesystem::path& path);

class Folder {
  public:
    Folder();
    ~Folder();
    Folder(const Folder&) = delete;
    Folder& operator=(const Folder&) = delete;

    const std::filesystem::path& path() const { return path_; }
    /// Writes the bytes unchanged.
    void write(const std::string& name, const std::string& bytes) const;
    std::string read(const std::string& name) const;
    /// Writes a WAV of 32-bit floats; `samples` interleaved.
    void write_wav(const std::string& name, const Signal& samples, int rate = 48000, int channels = 1) const;

  private:
    std::filesystem::path path_;
};

class ProjectFolder : public Folder {
  public:
    /// Writes kiai.toml: `format = 1`, then `text`.
    explicit ProjectFolder(const std::string& text = {});
    void toml(const std::string& text) const { write("kiai.toml", "format = 1\n" + text); }
    /// Loads the project; the test fails if there is an error.
    kiai::Project load() const;
    kiai::LoadResult load_with_findings() const { return kiai::load_project(path()); }
};

/// Makes a project with one clip `tone` of `samples`, and `text`.
kiai::Project project_of(const Signal& samples, const std::string& text = {}, int rate = 48000, int channels = 1);

} // namespace support
