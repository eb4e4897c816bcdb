// Pictures of what happened.
#pragma once

#include <kiai/workshop/catalogue.h>
#include <kiai/workshop/rehearse.h>
#include <kiai/workshop/simulate.h>

#include <filesystem>
#include <set>
#include <string>
#include <utility>
#include <vector>

namespace kiai::inline v0 {

struct PictureSettings {
    std::string title = {};
    int width = 1280;               ///< pixels, 480 … 8000
    int height = 800;               ///< pixels, 320 … 8000; less where less is needed
    Seconds from = Seconds(0);      ///< the stretch that is drawn
    Seconds to = Seconds(0);        ///< 0: to the end
    std::string note = {};          ///< a line below the title
    std::vector<Frames> marks = {}; ///< frames to be marked at the foot: where two runs differ
};

/// Draws a rehearsal as a PNG: a row for each kind of trigger, below them a row for each sound with the measured trail
/// of each play, and a thin line from each trigger to what it caused. Empty, or why it could not be written. [control]
std::string draw_rehearsal(const std::filesystem::path& file, const Rehearsal& rehearsal,
                           const PictureSettings& settings = {});

/// Draws two rehearsals as a PNG, one above the other, over the same stretch of time, each with half of the height;
/// where they differ (see differences.h) is marked at the foot of each. `titles`: of each, below one another. [control]
std::string draw_rehearsals(const std::filesystem::path& file, const Rehearsal& before, const Rehearsal& now,
                            const std::pair<std::string, std::string>& titles, const PictureSettings& settings = {});

/// Draws the plays of a rehearsal below one another as a PNG of 1280 pixels' width, the first 24 of them: the waveform
/// that came out, and where take, pitch and gain of each layer lie among those of all. Empty, or why not. [control]
std::string draw_plays(const std::filesystem::path& file, const Rehearsal& rehearsal,
                       const PictureSettings& settings = {});

/// Draws a simulation as a PNG of 1280 pixels' width: for each layer how often each take came, and how pitch and gain
/// were distributed, with what the project states drawn over it. Empty, or why not. [control]
std::string draw_simulation(const std::filesystem::path& file, const Simulation& simulation,
                            const PictureSettings& settings = {});

/// A press, and the zone that took it; empty: none was there.
struct ZonePress {
    Point point;
    std::string zone;
    std::string scope = {}; ///< drawn in the panel of this one; empty: in all
};

struct ZonePicture {
    std::string title = {};
    int width = 1280;                    ///< pixels, 480 … 8000
    int height = 800;                    ///< pixels, 320 … 8000
    std::vector<ZonePress> presses = {}; ///< the last one is marked
    std::set<std::string> covered = {};  ///< zones that others cover entirely, see FindingCode::covered_zone
};

/// Draws a project's zones as a PNG, one panel for each scope: outlines with their order numbers, darker where they
/// overlap, and where it was pressed. Empty, or why it could not be written. [control]
std::string draw_zones(const std::filesystem::path& file, const Project& project, const ZonePicture& picture = {});

/// A zone as a closed line, for an app that wants to show it over its own picture.
struct ZoneOutline {
    std::string name, scope; ///< scope empty: it is always there
    int order = 0;
    std::vector<Point> points; ///< in the app's own units; of what is round so many that it looks so
};

/// All zones as kiai.toml has them, from back to front. [control]
std::vector<ZoneOutline> outlines_of(const Project& project);

/// Where a rehearsal was pressed, in order, with who took it and in which scope that was. [control]
std::vector<ZonePress> presses_of(const Project& project, const Rehearsal& rehearsal);

/// Draws what `show_entry` found as a PNG of 1280 pixels' width: each clip's level in dB over time, where it is first
/// heard, its loops, where it is clipped, its facts, what uses it; at most 12 clips. Empty, or why not. [control]
std::string draw_clips(const std::filesystem::path& file, const EntryDetails& shown);

} // namespace kiai::inline v0
