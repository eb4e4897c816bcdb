// Decodes one audio file.
#pragma once

#include "files/file_access.h"
#include "model/audio.h"

#include <kiai/facts.h>

#include <filesystem>
#include <memory>
#include <string>

namespace kiai::files {

/// What was read of a file, or why nothing.
struct Decoded {
    std::shared_ptr<const model::Audio> audio; ///< where it was asked for
    Facts facts;
    std::string stamp; ///< see model::Clip
    FindingCode code = FindingCode::file_unreadable;
    std::string sentence; ///< why not, as follows the file's name: `is a web page`. Empty: it was read
    std::string mend;

    bool ok() const noexcept { return sentence.empty(); }
};

/// Whether a clip is read from its file while it plays.
enum class Stream { no, yes, when_long };
bool is_streamed(Stream wanted, Frames frames, int rate) noexcept;

/// Reads a file at its own rate, all of it or its head: any format that libsndfile reads, up to 8 channels; more than
/// two are folded to stereo. Of the facts, what the container holds is filled in. `most`: above 0, no more frames are
/// held than that, whatever there are. [any]
Decoded decode(const FileAccess& access, const std::string& file, Stream stream, Frames most = 0);

/// What to say of a file that ends too early; empty where it does not.
std::string cut_short(const Facts& facts);

} // namespace kiai::files
