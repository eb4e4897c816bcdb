// Draws pictures of runs, zones and clips as PNG files.
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
    int height = 800;               ///< pixels, 320 … 8000; less if less is needed
    Seconds from = Seconds(0);      ///< start of the drawn part
    Seconds to = Seconds(0);        ///< 0: to the end
    std::string note = {};          ///< a line below the title
    std::vector<Frames> marks = {}; ///< frames that are marked at the bottom, where two runs differ
};

/// Draws a rehearsal: a row for each kind of trigger, a row for each sound with the measured level of each play, and a
/// thin line from each trigger to the plays that it caused. Returns an empty text, or the error. [control]
std::string draw_rehearsal(const std::filesystem::path& file, const Rehearsal& rehearsal,
                           const PictureSettings& settings = {});

/// Draws two rehearsals, one above the other, over the same time, each with half of the height. Differences (see
/// differences.h) are marked at the bottom. Returns an empty text, or the error. [control]
std::string draw_rehearsals(const std::filesystem::path& file, const Rehearsal& before, const Rehearsal& now,
                            const std::pair<std::string, std::string>& titles, const PictureSettings& settings = {});

/// Draws the first 24 plays of a rehearsal, 1280 pixels wide: the waveform of the output, and the take, pitch and gain
/// of each layer within the range of all plays. Returns an empty text, or the error. [control]
std::string draw_plays(const std::filesystem::path& file, const Rehearsal& rehearsal,
                       const PictureSettings& settings = {});

/// Draws a simulation, 1280 pixels wide: for each layer, how often each take was picked, and the distributions of pitch
/// and gain, with the stated ones drawn over them. Returns an empty text, or the error. [control]
std::string draw_simulation(const std::filesystem::path& file, const Simulation& simulation,
                            const PictureSettings& settings = {});

/// A press, and the zone that received it; empty: none.
struct ZonePress {
    Point point;
    std::string zone;
    std::string scope = {}; ///< drawn in the panel of this scope; empty: in all
};

struct ZonePicture {
    std::string title = {};
    int width = 1280;                    ///< pixels, 480 … 8000
    int height = 800;                    ///< pixels, 320 … 8000
    std::vector<ZonePress> presses = {}; ///< the last one is marked
    std::set<std::string> covered = {};  ///< zones that others cover, see FindingCode::covered_zone
    std::filesystem::path over = {};     ///< a PNG of the app, on which the zones are drawn in place; empty: on paper
    std::string scope = {};              ///< with `over`: draws the zones of this scope and those without one
};

/// Draws the zones of a project, one panel for each scope: outlines with order numbers, darker at overlaps, and the
/// presses. Returns an empty text, or the error. [control]
std::string draw_zones(const std::filesystem::path& file, const Project& project, const ZonePicture& picture = {});

/// A zone as a closed line, for an app that draws zones over its own picture.
struct ZoneOutline {
    std::string name, scope; ///< scope empty: the zone always exists
    int order = 0;
    std::vector<Point> points; ///< in the app's units; a round shape has enough of them to look smooth
};

/// Returns all zones as in kiai.toml, from back to front. [control]
std::vector<ZoneOutline> outlines_of(const Project& project);

/// Returns the presses of a rehearsal in order, each with its zone and scope. [control]
std::vector<ZonePress> presses_of(const Project& project, const Rehearsal& rehearsal);

/// Draws the clips of `show_entry`, at most 12, 1280 pixels wide: the level in dB over time, the first audible frame,
/// loops, clipped samples, facts and users. Returns an empty text, or the error. [control]
std::string draw_clips(const std::filesystem::path& file, const EntryDetails& shown);

} // namespace kiai::inline v0
