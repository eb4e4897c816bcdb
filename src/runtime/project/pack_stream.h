// A long clip whose samples are read from a pack while it plays.
#pragma once

#include "core/model/stream_source.h"
#include "runtime/project/pack_file.h"

#include <memory>

namespace kiai::runtime {

class PackStream : public model::StreamSource {
  public:
    /// The samples of the clip are interleaved.
    PackStream(std::shared_ptr<const FileBytes> file, PackClip clip) : file_(std::move(file)), clip_(std::move(clip)) {}
    std::unique_ptr<model::FrameReader> open() const override;

  private:
    std::shared_ptr<const FileBytes> file_;
    PackClip clip_;
};

} // namespace kiai::runtime
