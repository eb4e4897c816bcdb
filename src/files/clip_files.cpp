#include "files/clip_files.h"

namespace kiai::files {

std::vector<Decoded> DecodedFiles::read(const std::vector<std::string>& files) {
    std::vector<Decoded> all(files.size());
    in_parallel(
        files.size(), [&](std::size_t i) { all[i] = decode(folder_ / files[i]); }, progress_);
    return all;
}

} // namespace kiai::files
