// A trace: what an app reported, and when.
#pragma once

#include <kiai/report.h>
#include <kiai/units.h>

#include <cstdint>
#include <optional>
#include <vector>

namespace kiai::inline v0 {

struct TraceLine {
    double at = 0;                              ///< seconds; used where `frame` is not given
    std::optional<Frames> frame = std::nullopt; ///< on the clock of the engine that recorded it
    Report report;
    int line = 0; ///< in its file, from 1; 0: it is from none

    /// The frame at which a rehearsal serves it: `frame`, or round(at x rate).
    Frames due(int rate) const noexcept;
};

struct Trace {
    int sample_rate = 48000;
    std::optional<std::uint64_t> seed = std::nullopt;
    std::vector<TraceLine> lines; ///< in the order in which they are served
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/trace.h>
#endif
