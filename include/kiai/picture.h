// Pictures of what happened.
#pragma once

#include <kiai/rehearse.h>

#include <filesystem>
#include <string>

namespace kiai::inline v0 {

struct PictureSettings {
    std::string title = {};
    int width = 1280;          ///< pixels, 480 … 8000
    int height = 800;          ///< pixels, 320 … 8000; less where less is needed
    Seconds from = Seconds(0); ///< the stretch that is drawn
    Seconds to = Seconds(0);   ///< 0: to the end
};

/// Draws a rehearsal as a PNG: a row for each kind of trigger, below them a row for each sound with the measured trail
/// of each play, and a thin line from each trigger to what it caused. Empty, or why it could not be written. [control]
std::string draw_rehearsal(const std::filesystem::path& file, const Rehearsal& rehearsal,
                           const PictureSettings& settings = {});

} // namespace kiai::inline v0
