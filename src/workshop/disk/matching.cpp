#include "workshop/disk/matching.h"

#include <glob.h>

namespace kiai::workshop {

std::vector<std::filesystem::path> matching(const std::filesystem::path& pattern) {
    std::vector<std::filesystem::path> paths;
    glob_t matches{};
    if (glob(pattern.c_str(), 0, nullptr, &matches) == 0)
        for (std::size_t i = 0; i < matches.gl_pathc; ++i) paths.emplace_back(matches.gl_pathv[i]);
    globfree(&matches);
    return paths;
}

} // namespace kiai::workshop
