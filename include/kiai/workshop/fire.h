// Triggers by hand: a binding is made to fire in a fresh engine, and it is measured what is heard of it.
#pragma once

#include <kiai/workshop/trigger.h>
#include <kiai/workshop/why.h>

#include <string>
#include <vector>

namespace kiai::inline v0 {

struct FireSettings {
    /// Set the binding's conditions aside (`when`, `once`, `every`, `chance`, `gap`); else they are as they stand at
    /// the start. The scopes that it needs are on in either case.
    bool anyway = false;
    std::uint64_t seed = 1;
    int sample_rate = 48000;
    float strength = 1;                  ///< of a contact
    float place = 0;                     ///< likewise
    std::vector<NamedValue> values = {}; ///< of a notice
    Seconds listen = Seconds(10);        ///< how long after it fired a sound may come
};

/// What came of one binding.
struct FireResult {
    int binding = 0;                 ///< the n-th of kiai.toml, from 1
    int line = 0;                    ///< of kiai.toml
    std::string trigger;             ///< `press hopper`
    bool fired = false;              ///< it answered its trigger, whatever came of that
    bool silent_by_design = false;   ///< nothing that it does plays a sound
    bool heard = false;              ///< the peak of one of its plays came above `audible`
    Decibels level = -200;           ///< of the loudest, in dBFS
    std::vector<std::string> sounds; ///< that it plays, in order of their names
    Diagnosis why;                   ///< what was asked of each link on the way; `why.heard()` where it was heard

    bool good() const noexcept { return heard || (silent_by_design && fired); }
};

/// Above this a play counts as heard, dBFS.
constexpr Decibels audible = -60;

/// Fires the n-th binding of kiai.toml, from 1, in an engine of its own. [control]
FireResult fire(const Project& project, int binding, const FireSettings& settings = {});
/// Each of them, one after the other. [control]
std::vector<FireResult> fire_all(const Project& project, const FireSettings& settings = {});
/// What would be reported to make it fire, as a trace: to be rehearsed, or to begin one of one's own. [control]
Trace trace_of(const Project& project, int binding, const FireSettings& settings = {});
/// The numbers of the bindings to a trigger; of a press at a point, those of the zone in front there. [control]
std::vector<int> bindings_to(const Project& project, const Trigger& trigger);

} // namespace kiai::inline v0
