// Examines the frames of an MPEG audio file (MP3) before a decoder opens it.
#pragma once

#include <cstdint>
#include <istream>

namespace kiai::runtime {

struct Mp3 {
    bool is = false;         ///< it begins with MPEG audio frames, perhaps after a tag
    bool counted = false;    ///< a header frame says how long it is
    bool trimmed = false;    ///< and how much its encoder has added, which the decoder takes away
    std::int64_t frames = 0; ///< if not `counted`: audio frames of all its MPEG frames
    static constexpr std::int64_t usual_delay =
        1105; ///< of encoder (576) and decoder (529), where the file states nothing
    /// Returns the frames at the beginning that the encoder added and the decoder does not remove.
    std::int64_t delay() const noexcept { return is && !trimmed ? usual_delay : 0; }
};

/// Reads only the headers of frames. [any]
Mp3 read_mp3(std::istream& file);

} // namespace kiai::runtime
