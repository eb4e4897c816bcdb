// How the files of a project's clips are read: decoded to be played, or looked at with what is known from before.
#pragma once

#include "files/audio_reader.h"
#include "files/parallel.h"

#include <optional>
#include <vector>

namespace kiai::files {

class ClipFiles {
  public:
    virtual ~ClipFiles() = default;
    /// One result per file, in their order; `files` are relative to the project. [control]
    virtual std::vector<Decoded> read(const std::vector<std::string>& files) = 0;
    /// What a file was when it was last there.
    virtual std::optional<Facts> last_seen(const std::string& file) const {
        static_cast<void>(file);
        return std::nullopt;
    }
};

/// Decodes them all, on all cores.
class DecodedFiles : public ClipFiles {
  public:
    DecodedFiles(std::filesystem::path folder, Progress progress)
        : folder_(std::move(folder)), progress_(std::move(progress)) {}
    std::vector<Decoded> read(const std::vector<std::string>& files) override;

  private:
    std::filesystem::path folder_;
    Progress progress_;
};

} // namespace kiai::files
