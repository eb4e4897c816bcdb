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

/// The contents of a file, or the reason why there are none.
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

/// The result for a file that was not read because the app cancelled loading.
Decoded not_read();

/// Describes a file that ends too early; empty if it does not.
std::string cut_short(const Facts& facts);

/// The file of a clip, relative to the project.
struct AskedFile {
    std::string file;
    Stream stream = Stream::when_long;
};

class ClipFiles {
  public:
    virtual ~ClipFiles() = default;
    /// [control]
    virtual bool exists(const std::string& file) const = 0;
    /// Returns false if the path leaves the project. [control]
    virtual bool stays_inside(const std::string& file) const = 0;
    /// Returns one result per file, in the same order. [control]
    virtual std::vector<Decoded> read(const std::vector<AskedFile>& files) = 0;

    /// A candidate for a missing file.
    struct Meant {
        std::string fix;
        std::string replacement; ///< the path that belongs there instead, if that is certain
    };
    /// `named`: the files that the project names. [control]
    virtual Meant meant(const std::string& missing, const std::set<std::string>& named) = 0;
};

} // namespace kiai::reader
