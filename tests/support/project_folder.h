// A project in a folder of its own that is gone when the test is.
#pragma once

#include "support/signal.h"

#include <kiai/load.h>

#include <filesystem>
#include <string>

namespace support {

/// A whole file.
std::string text_of(const std::filesystem::path& path);

class Folder {
  public:
    Folder();
    ~Folder();
    Folder(const Folder&) = delete;
    Folder& operator=(const Folder&) = delete;

    const std::filesystem::path& path() const { return path_; }
    /// Writes a file as it is.
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
    /// Loads it; the test fails where there is an error.
    kiai::Project load() const;
    kiai::LoadResult load_with_findings() const { return kiai::load_project(path()); }
};

/// A project with one clip `tone` of `samples`, and whatever `text` says.
kiai::Project project_of(const Signal& samples, const std::string& text = {}, int rate = 48000, int channels = 1);

} // namespace support
