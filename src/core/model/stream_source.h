// A clip whose frames are read from where they are while it plays.
#pragma once

#include <cstdint>
#include <memory>

namespace kiai::model {

/// One place in it, at which one stream reads on. One thread at a time.
class FrameReader {
  public:
    virtual ~FrameReader() = default;
    /// Planar frames from `from` on, into `left` and, where there are two channels, `right`; how many: fewer at its
    /// end, or where it cannot be read any further.
    virtual std::int64_t read(std::int64_t from, std::int64_t frames, float* left, float* right) = 0;
};

class StreamSource {
  public:
    virtual ~StreamSource() = default;
    /// Returns null if it can no longer be opened. [any]
    virtual std::unique_ptr<FrameReader> open() const = 0;
};

} // namespace kiai::model
