// Where a project's files and clips come from, if not from its folder on the disk.
#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <memory>
#include <span>
#include <string>
#include <vector>

namespace kiai::inline v0 {

/// The samples of a clip that the app has made or decoded itself. In kiai.toml the clip says `from-app = true`.
struct Samples {
    int rate = 48000;               ///< frames per second, 1000 … 768000
    int channels = 1;               ///< 1 or 2
    std::vector<float> interleaved; ///< 1 is full scale; frames x channels
};

/// One file that the app reads in its own way: out of an archive, out of memory, over a network. Used by one thread at
/// a time, not always the same; it may take as long as it needs. An exception counts as the end of the file.
class FileReader {
  public:
    virtual ~FileReader() = default;
    /// Bytes in the file.
    virtual std::int64_t size() = 0;
    /// Copies bytes from `from` on; how many: fewer only at the end.
    virtual std::int64_t read(std::int64_t from, std::span<std::byte> into) = 0;
};

/// Opens a file by its path as kiai.toml gives it (and `kiai.toml` itself); null where there is none. Called from
/// several threads at once, and again for each stream of a long clip, also long after loading.
using OpenFile = std::function<std::unique_ptr<FileReader>(const std::string& path)>;

} // namespace kiai::inline v0
