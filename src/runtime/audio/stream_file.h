// A long clip that is read from its file while it plays.
#pragma once

#include "core/model/stream_source.h"
#include "runtime/audio/file_access.h"
#include "runtime/audio/fold.h"

#include <string>
#include <vector>

namespace kiai::runtime {

class StreamFile : public model::StreamSource {
  public:
    /// `narrow`: converts through 16 bits, as such a clip is stored in memory. `skip`: frames at the beginning of an
    /// MP3 that are not heard; -1: not an MP3.
    StreamFile(FileAccess access, std::string file, std::vector<FoldGain> fold, bool narrow, std::int64_t skip)
        : access_(std::move(access)), file_(std::move(file)), fold_(std::move(fold)), narrow_(narrow), skip_(skip) {}
    std::unique_ptr<model::FrameReader> open() const override;

  private:
    FileAccess access_;
    std::string file_;
    std::vector<FoldGain> fold_;
    bool narrow_;
    std::int64_t skip_;
};

} // namespace kiai::runtime
