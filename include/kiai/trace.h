// A trace: the reports of an app, with their times.
#pragma once

#include <kiai/report.h>
#include <kiai/units.h>

#include <cstdint>
#include <optional>
#include <vector>

namespace kiai::inline v0 {

struct TraceLine {
    double at = 0;                              ///< seconds; used if `frame` has no value
    std::optional<Frames> frame = std::nullopt; ///< on the clock of the recording engine
    Report report;
    int line = 0; ///< line of the file, from 1; 0: no file

    /// Returns the frame at which a rehearsal serves the report: `frame`, or round(at x rate).
    Frames due(int rate) const noexcept;
};

struct Trace {
    int sample_rate = 48000;
    std::optional<std::uint64_t> seed = std::nullopt;
    std::vector<TraceLine> lines; ///< in the order of service
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/trace.h>
#endif
