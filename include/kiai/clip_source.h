// Sources of files and samples other than the project's folder.
#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// Samples that the app made or decoded itself, for a clip with `from-app = true`.
struct Samples {
    int rate = 48000;               ///< frames per second, 1000 … 768000
    int channels = 1;               ///< 1 or 2
    std::vector<float> interleaved; ///< 1 is full scale; frames x channels
};

/// A file that the app reads itself, for example from an archive. Used by one thread at a time, not always the same.
/// The calls may block. An exception counts as the end of the file.
class FileReader {
  public:
    virtual ~FileReader() = default;
    /// Returns the size in bytes.
    virtual std::int64_t size() = 0;
    /// Copies bytes, starting at the offset `from`. Returns how many: fewer than requested only at the end.
    virtual std::int64_t read(std::int64_t from, std::span<std::byte> into) = 0;
};

/// Opens a file by its path in kiai.toml, and `kiai.toml` itself. Returns null if there is no such file. Called on
/// several threads at once, and after loading for each stream of a long clip.
using OpenFile = std::function<std::unique_ptr<FileReader>(const std::string& path)>;

/// Decodes an audio file: a decoder of the app or of its system. `path` is the path in kiai.toml, `bytes` the whole
/// file, which exist until the call returns. Returns nothing if it cannot decode the file; an exception counts as that.
/// Called on several threads at once.
using DecodeFile = std::function<std::optional<Samples>(const std::string& path, std::span<const std::byte> bytes)>;

} // namespace kiai::inline v0
