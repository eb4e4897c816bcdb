// A long clip that is read from its file while it plays.
#pragma once

#include "files/file_access.h"
#include "files/fold.h"
#include "model/stream_source.h"

#include <string>
#include <vector>

namespace kiai::files {

class StreamFile : public model::StreamSource {
  public:
    /// `narrow`: through 16 bits, as such a clip is held in memory.
    StreamFile(FileAccess access, std::string file, std::vector<FoldGain> fold, bool narrow)
        : access_(std::move(access)), file_(std::move(file)), fold_(std::move(fold)), narrow_(narrow) {}
    std::unique_ptr<model::FrameReader> open() const override;

  private:
    FileAccess access_;
    std::string file_;
    std::vector<FoldGain> fold_;
    bool narrow_;
};

} // namespace kiai::files
