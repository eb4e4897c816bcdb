// How the files of a project's clips are read: decoded to be played, or looked at with what is known from before.
#pragma once

#include "files/audio_reader.h"
#include "files/parallel.h"

#include <optional>
#include <vector>

namespace kiai::files {

/// A clip's file, relative to the project.
struct AskedFile {
    std::string file;
    Stream stream = Stream::when_long;
};

class ClipFiles {
  public:
    explicit ClipFiles(FileAccess access) : access_(std::move(access)) {}
    virtual ~ClipFiles() = default;
    const FileAccess& access() const noexcept { return access_; }
    /// One result per file, in their order. [control]
    virtual std::vector<Decoded> read(const std::vector<AskedFile>& files) = 0;
    /// What a file was when it was last there.
    virtual std::optional<Facts> last_seen(const std::string& file) const {
        static_cast<void>(file);
        return std::nullopt;
    }

  private:
    FileAccess access_;
};

/// Only finds out which are there.
class NamedFiles : public ClipFiles {
  public:
    using ClipFiles::ClipFiles;
    std::vector<Decoded> read(const std::vector<AskedFile>& files) override;
};

/// Decodes them all, on all cores, but for those that `like` has already.
class DecodedFiles : public ClipFiles {
  public:
    DecodedFiles(FileAccess access, Project like, Progress progress, std::stop_token cancel)
        : ClipFiles(std::move(access)), like_(std::move(like)), progress_(std::move(progress)),
          cancel_(std::move(cancel)) {}
    std::vector<Decoded> read(const std::vector<AskedFile>& files) override;

  private:
    std::string stamp_of(const std::string& file) const;

    Project like_;
    Progress progress_;
    std::stop_token cancel_;
};

} // namespace kiai::files
