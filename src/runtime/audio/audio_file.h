// An open audio file, on the disk or in the app's own reader.
#pragma once

#include "runtime/audio/file_access.h"

#include <sndfile.h>

#include <memory>
#include <string>

namespace kiai::runtime {

/// Closes itself. Must not be moved once it is open.
class AudioFile {
  public:
    AudioFile(const FileAccess& access, const std::string& file);
    ~AudioFile();
    AudioFile(const AudioFile&) = delete;
    AudioFile& operator=(const AudioFile&) = delete;

    SNDFILE* get() const noexcept { return file_; } ///< null where it could not be opened
    const SF_INFO& info() const noexcept { return info_; }

  private:
    struct Bytes;
    std::unique_ptr<Bytes> bytes_;
    SNDFILE* file_ = nullptr;
    SF_INFO info_{};
};

} // namespace kiai::runtime
