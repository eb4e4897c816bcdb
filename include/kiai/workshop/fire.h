// Fires triggers by hand: a binding fires in a new engine, and its plays are measured.
#pragma once

#include <kiai/workshop/trigger.h>
#include <kiai/workshop/why.h>

#include <string>
#include <vector>

namespace kiai::inline v0 {

struct FireSettings {
    /// Ignores the conditions of the binding (`when`, `once`, `every`, `chance`, `gap`). Otherwise they are evaluated
    /// in the initial state. The scopes of the binding are on in both cases.
    bool anyway = false;
    std::uint64_t seed = 1;
    int sample_rate = 48000;
    float strength = 1;                  ///< of a contact
    float place = 0;                     ///< of a contact
    std::vector<NamedValue> values = {}; ///< of a notice
    Seconds listen = Seconds(10);        ///< how long to wait for a sound after the trigger
};

/// The result of firing a binding.
struct FireResult {
    int binding = 0;                 ///< number of the binding in kiai.toml, from 1
    int line = 0;                    ///< of kiai.toml
    std::string trigger;             ///< `press hopper`
    bool fired = false;              ///< the binding answered its trigger
    bool silent_by_design = false;   ///< none of its actions plays a sound
    bool heard = false;              ///< the peak of one of its plays was above `audible`
    Decibels level = -200;           ///< peak of the loudest play, dBFS
    std::vector<std::string> sounds; ///< the sounds that it plays, by name
    Diagnosis why;                   ///< the chain to the output; `why.heard()` if it was heard

    bool good() const noexcept { return heard || (silent_by_design && fired); }
};

/// A play with a peak above this counts as heard, dBFS.
constexpr Decibels audible = -60;

/// Fires the binding with this number, from 1, in a new engine. [control]
FireResult fire(const Project& project, int binding, const FireSettings& settings = {});
/// Fires every binding. [control]
std::vector<FireResult> fire_all(const Project& project, const FireSettings& settings = {});
/// Returns the reports that fire the binding, as a trace. [control]
Trace trace_of(const Project& project, int binding, const FireSettings& settings = {});
/// Returns the numbers of all bindings, from 1. [control]
std::vector<int> all_bindings(const Project& project);
/// Returns the numbers of the bindings to a trigger; for a press at a point, of the front zone there. [control]
std::vector<int> bindings_to(const Project& project, const Trigger& trigger);

} // namespace kiai::inline v0
