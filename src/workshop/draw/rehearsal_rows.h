// The contents of a rehearsal's picture, sorted into rows and lanes, without pixels.
#pragma once

#include <kiai/workshop/rehearse.h>

#include <map>
#include <string>
#include <vector>

namespace kiai::workshop {

/// One report that the engine answered.
struct Cause {
    Frames frame = 0;
    ReportKind kind = ReportKind::notice;
    std::string on;
    bool answered = false; ///< a play began or ended by it
    bool ends = false;     ///< it is the end of something: a release, a watch that turns false
};

struct Trail {
    std::uint32_t play = 0;
    std::uint64_t cause = 0;
    Frames begin = 0, end = 0;
    bool stolen = false;
    std::uint64_t ended_by = 0; ///< the cause of its early end
    std::string label;          ///< take, pitch, gain
    std::vector<float> levels;  ///< linear peak of all layers per 64 frames, from the cell of `begin`
    int lane = 0;
    Decibels peak = -200; ///< of all of it, dBFS
};

/// Something that lasts: a scope, a watch, a sequence, or a ducked bus.
struct TimeSpan {
    ReportKind kind = ReportKind::watch; ///< the row that it is in
    std::string name;
    std::uint64_t cause = 0;
    Frames begin = 0, end = 0;
    std::string bus; ///< that is ducked
};

struct Refusal {
    Frames frame = 0;
    std::uint64_t cause = 0;
    Outcome rule = Outcome::refused_gap;
};

struct SoundRow {
    std::string name;
    std::vector<Trail> trails;
    std::vector<Refusal> refusals;
    int lanes = 1; ///< overlapping plays are in different lanes
};

struct RehearsalRows {
    std::map<std::uint64_t, Cause> causes;
    std::vector<ReportKind> kinds; ///< that occur, in a fixed order
    std::vector<TimeSpan> spans;
    std::vector<SoundRow> sounds; ///< in the order of their first decision
    Frames from = 0, to = 1;      ///< the stretch that is drawn
    int rate = 48000;
};

/// Returns the row for a kind of trigger; scopes that turn on and off share one.
ReportKind row_for(ReportKind kind) noexcept;
const char* row_name(ReportKind row) noexcept;

/// Returns what is visible from `from` to `to`. `most_lanes`: per sound; further overlapping plays share the last one.
RehearsalRows sort_into_rows(const Rehearsal& rehearsal, Frames from, Frames to, int most_lanes);

} // namespace kiai::workshop
