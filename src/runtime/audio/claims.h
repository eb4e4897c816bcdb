// What an audio file states about its own length, compared with what the decoder finds.
#pragma once

#include <cstdint>
#include <istream>

namespace kiai::runtime {

struct Claims {
    std::int64_t data = -1;    ///< bytes that the header says the samples take; -1: it states nothing
    std::int64_t present = -1; ///< bytes of them that the file has
    std::int64_t frames = -1;  ///< exact length, where a block coding is padded (the `fact` of WAV)
    bool cut = false;          ///< the file's last part is missing, its length unknown (Ogg)
};

/// Reads only headers: chunks of WAV and AIFF, the header of AU, the last page of Ogg. [any]
Claims read_claims(std::istream& file);

} // namespace kiai::runtime
