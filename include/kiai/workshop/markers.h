// Finds markers of a motion from taps that were recorded while it ran.
#pragma once

#include <kiai/project.h>
#include <kiai/workshop/check.h>
#include <kiai/workshop/trace.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct TapOptions {
    std::string notice = "tap"; ///< the notice that the app gives at each tap
    bool dry_run = false;       ///< returns the result, and writes nothing
};

/// Taps at nearly the same frame of the motion, in several turns.
struct TappedMarker {
    double frame = 0;  ///< the median of the taps, rounded to a whole frame
    int taps = 0;      ///< number of taps
    double spread = 0; ///< half of the range of the taps, in seconds
    bool used = false; ///< false: fewer taps than half of the turns, so they were probably accidental
};

struct TappedMarkers {
    std::vector<TappedMarker> markers; ///< in the order of their frames
    double turns = 0;                  ///< how often the motion passed its whole length
    EditResult edited;
};

/// Finds the frames at which somebody tapped while a motion ran, over all turns of a trace, and writes their medians as
/// the marker's frames in kiai.toml. Between two reports of the playhead its frame is interpolated. Taps less than 150
/// ms apart, counted over all turns, are one marker. Refused, with a finding: the motion is unknown, or the trace has
/// no tap while the motion runs. [control]
TappedMarkers mark_taps(const std::filesystem::path& folder, const Trace& trace, const std::string& motion,
                        const std::string& marker, const TapOptions& options = {});

} // namespace kiai::inline v0
