#include "workshop/page/rehearsal_png.h"

#include "workshop/disk/temporary_file.h"

#include <fstream>

namespace kiai::workshop {

std::string rehearsal_png(const Rehearsal& rehearsal, const PictureSettings& settings, std::string& error) {
    const TemporaryFile file(".png");
    error = draw_rehearsal(file.path(), rehearsal, settings);
    if (!error.empty()) return {};
    std::ifstream stream(file.path(), std::ios::binary);
    return {std::istreambuf_iterator<char>(stream), {}};
}

} // namespace kiai::workshop
