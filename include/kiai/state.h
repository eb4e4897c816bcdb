// The present state of an engine.
#pragma once

#include <kiai/decision.h>
#include <kiai/report.h>
#include <kiai/units.h>

#include <cstddef>
#include <cstdint>
#include <string>

namespace kiai::inline v0 {

enum class ScopeState : std::uint8_t { off = 0, on = 1, paused = 2 };
const char* to_string(ScopeState state) noexcept;

/// The position of a zone.
struct ZonePlace {
    Point middle;         ///< in the units of kiai.toml
    float scale = 1;      ///< size relative to kiai.toml
    bool removed = false; ///< by Engine::remove_zone
};

/// A play that has not ended.
struct PlayingNow {
    std::uint32_t number = 0; ///< in the log
    std::string sound;
    std::string bus;
    std::string scope; ///< empty: none
    PlayState state = PlayState::playing;
    Seconds elapsed = Seconds(0); ///< see Play::elapsed
};

/// A binding `after` or `every` that waits for its time.
struct WaitingTimer {
    int binding = 0;     ///< in the log
    std::string trigger; ///< as in messages: `every 2 s`
    Seconds left = Seconds(0);
    bool paused = false; ///< with its scope
};

/// How near an engine is to its limits. Block times are shares of the duration of a block, over about the last five
/// seconds; at 1 the output has gaps.
struct Load {
    double median = 0;
    double worst = 0;
    int voices = 0, most_voices = 0;   ///< beyond the maximum the least audible plays are stolen
    int streams = 0, most_streams = 0; ///< long clips that are read from the disk
    /// Reports that waited for the last block; reports that wait for a later frame. Beyond the maximum they are lost.
    int reports = 0, most_reports = 0;
    int scheduled = 0, most_scheduled = 0;
    int decisions = 0, most_decisions = 0; ///< that wait for `poll`; beyond the maximum they are lost
    /// Bytes of samples in memory: of the project, and of copies that were converted to the engine's rate.
    std::size_t memory = 0;
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/state.h>
#endif
