// What `with-sound-server` recorded.
#pragma once

#include "support/signal.h"

#include <cstddef>
#include <filesystem>
#include <vector>

namespace support {

/// Returns FOLDER/recorded.raw: interleaved stereo.
std::vector<float> recorded(const std::filesystem::path& folder);

struct HeardParts {
    std::size_t found = 0, all = 0;
};

/// Looks for short parts of a signal in a recording: a busy machine's device may be late and leave gaps. `every`:
/// frames from one part to the next. Leaves out what is too quiet to be distinguished.
HeardParts parts_heard(const Signal& heard, const Signal& meant, std::size_t every);

} // namespace support
