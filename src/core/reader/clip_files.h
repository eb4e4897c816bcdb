// The source of the samples of clips.
#pragma once

#include "core/model/audio.h"

#include <kiai/facts.h>
#include <kiai/finding.h>

#include <memory>
#include <set>
#include <string>
#include <vector>

namespace kiai::reader {

/// Whether a clip is read from its file while it plays.
enum class Stream { no, yes, when_long };
bool is_streamed(Stream wanted, Frames frames, int rate) noexcept;

/// What was read of a file, or why nothing.
struct Decoded {
    std::shared_ptr<const model::Audio> audio; ///< if it was requested
    Facts facts;
    std::string stamp;    ///< see model::Clip
    bool samples = false; ///< its file holds samples as they are, not compressed
    FindingCode code = FindingCode::file_unreadable;
    std::string message; ///< why not, as follows the file's name: `is a web page`. Empty: it was read
    std::string fix;

    bool ok() const noexcept { return message.empty(); }
};

/// Of a file that was not read, since the app cancelled loading.
Decoded not_read();

/// What to say of a file that ends too early; empty where it does not.
std::string cut_short(const Facts& facts);

/// A clip's file, relative to the project.
struct AskedFile {
    std::string file;
    Stream stream = Stream::when_long;
};

class ClipFiles {
  public:
    virtual ~ClipFiles() = default;
    /// [control]
    virtual bool exists(const std::string& file) const = 0;
    /// False where the path leaves the project. [control]
    virtual bool stays_inside(const std::string& file) const = 0;
    /// One result per file, in their order. [control]
    virtual std::vector<Decoded> read(const std::vector<AskedFile>& files) = 0;

    /// What may have been meant by a file that is missing.
    struct Meant {
        std::string fix;
        std::string replacement; ///< the path that belongs there instead, if that is certain
    };
    /// `named`: the files that the project names. [control]
    virtual Meant meant(const std::string& missing, const std::set<std::string>& named) = 0;
};

} // namespace kiai::reader
