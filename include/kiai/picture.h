// Pictures of what happened.
#pragma once

#include <kiai/catalogue.h>
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

/// Draws the plays of a rehearsal below one another as a PNG of 1280 pixels' width, the first 24 of them: the waveform
/// that came out, and where take, pitch and gain of each layer lie among those of all. Empty, or why not. [control]
std::string draw_plays(const std::filesystem::path& file, const Rehearsal& rehearsal,
                       const PictureSettings& settings = {});

/// Draws what `show_entry` found as a PNG of 1280 pixels' width: each clip's level in dB over time, where it is first
/// heard, its loops, where it is clipped, its facts, what uses it; at most 12 clips. Empty, or why not. [control]
std::string draw_clips(const std::filesystem::path& file, const Shown& shown);

} // namespace kiai::inline v0
