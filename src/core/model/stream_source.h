// A clip whose frames are read from its source while it plays.
#pragma once

#include <cstdint>
#include <memory>

namespace kiai::model {

/// A read position, for one stream. One thread at a time.
class FrameReader {
  public:
    virtual ~FrameReader() = default;
    /// Reads planar frames from `from` on into `left` and, for two channels, `right`. Returns how many; fewer at the
    /// end, or if the source can no longer be read.
    virtual std::int64_t read(std::int64_t from, std::int64_t frames, float* left, float* right) = 0;
};

class StreamSource {
  public:
    virtual ~StreamSource() = default;
    /// Returns null if it can no longer be opened. [any]
    virtual std::unique_ptr<FrameReader> open() const = 0;
};

} // namespace kiai::model
