// What an engine can be asked about its present state.
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

/// Where a zone is.
struct ZonePlace {
    Point middle;         ///< in the units of kiai.toml
    float scale = 1;      ///< how many times as large as in kiai.toml
    bool removed = false; ///< by Engine::remove_zone
};

/// A play that has not come to its last frame.
struct PlayingNow {
    std::uint32_t number = 0; ///< in the log
    std::string sound;
    std::string bus;
    std::string scope; ///< empty: it belongs to none
    PlayState state = PlayState::playing;
    Seconds elapsed = Seconds(0); ///< as Play::elapsed
};

/// How near an engine is to its limits. Block times are of about the last five seconds, as parts of the time that the
/// block lasts: at 1 the device runs dry.
struct Load {
    double median = 0;
    double worst = 0;
    int voices = 0, most_voices = 0;   ///< that limits count; beyond the most, the least audible plays are stolen
    int streams = 0, most_streams = 0; ///< long clips that are being read
    /// Reports that waited for the last block, and that wait for a later frame; beyond the most they are lost.
    int reports = 0, most_reports = 0;
    int scheduled = 0, most_scheduled = 0;
    int decisions = 0, most_decisions = 0; ///< that wait for `poll`; beyond the most they are lost
    /// Bytes of samples in memory: those of the project, and the copies of its clips at the engine's rate.
    std::size_t memory = 0;
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/state.h>
#endif
