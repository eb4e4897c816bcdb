// Reads the clips of a project from the files in its folder, or from the app's own reader.
#pragma once

#include "core/reader/clip_files.h"
#include "runtime/audio/file_access.h"

#include <kiai/load.h>

#include <filesystem>

namespace kiai::runtime {

class FolderClips : public reader::ClipFiles {
  public:
    FolderClips(std::filesystem::path folder, OpenFile open)
        : folder_(std::move(folder)), access_(folder_, std::move(open)) {}
    bool exists(const std::string& file) const override { return access_.exists(file); }
    bool stays_inside(const std::string& file) const override;
    /// Returns a file in the same folder with a similar name.
    Meant meant(const std::string& missing, const std::set<std::string>& named) override;
    const std::filesystem::path& folder() const noexcept { return folder_; }
    const FileAccess& access() const noexcept { return access_; }

  private:
    std::filesystem::path folder_; ///< as the caller named it
    FileAccess access_;
};

/// Only finds out which files exist.
class NamedFiles : public FolderClips {
  public:
    using FolderClips::FolderClips;
    std::vector<reader::Decoded> read(const std::vector<reader::AskedFile>& files) override;
};

/// Decodes all files on all cores, except those that `reuse` already has.
class DecodedFiles : public FolderClips {
  public:
    DecodedFiles(std::filesystem::path folder, const LoadOptions& options)
        : FolderClips(std::move(folder), options.open), options_(options) {}
    std::vector<reader::Decoded> read(const std::vector<reader::AskedFile>& files) override;

  private:
    std::string stamp_of(const std::string& file) const;

    const LoadOptions& options_;
};

} // namespace kiai::runtime
