#include "workshop/page/rehearsal_png.h"

#include <fmt/format.h>

#include <filesystem>
#include <fstream>
#include <random>

namespace kiai::workshop {

std::string rehearsal_png(const Rehearsal& rehearsal, const PictureSettings& settings, std::string& error) {
    namespace fs = std::filesystem;
    const fs::path file = fs::temp_directory_path() / fmt::format("kiai-{:08x}.png", std::random_device()());
    error = draw_rehearsal(file, rehearsal, settings);
    std::string bytes;
    if (error.empty()) {
        std::ifstream stream(file, std::ios::binary);
        bytes.assign(std::istreambuf_iterator<char>(stream), {});
    }
    std::error_code ignored;
    fs::remove(file, ignored);
    return bytes;
}

} // namespace kiai::workshop
