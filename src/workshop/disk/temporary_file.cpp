#include "workshop/disk/temporary_file.h"

#include <fmt/format.h>

#include <random>

namespace kiai::workshop {

TemporaryFile::TemporaryFile(const std::string& extension) {
    std::random_device random;
    path_ = std::filesystem::temp_directory_path() / fmt::format("kiai-{:08x}{:08x}{}", random(), random(), extension);
}

} // namespace kiai::workshop
