// Decodes one audio file.
#pragma once

#include "model/audio.h"

#include <kiai/finding.h>

#include <filesystem>
#include <memory>
#include <string>

namespace kiai::files {

/// Either the samples, or why not.
struct Decoded {
    std::shared_ptr<const model::Audio> audio; ///< null where there is a reason
    FindingCode code = FindingCode::file_unreadable;
    std::string sentence;
    std::string mend;
};

/// Reads the whole file, at its own rate. Any format that libsndfile reads, 1 or 2 channels. [control]
Decoded decode(const std::filesystem::path& file);

} // namespace kiai::files
